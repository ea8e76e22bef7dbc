import { describe, expect, it } from 'vitest';
import { finder, plainText } from './finding';

const TEXT = plainText('Letting down the Mainspring: Öl für die Hemmung /courses/pendulum');
const isFound = (typed: string) => finder(typed)(TEXT);

describe('finding by typing', () => {
	it.each([
		['nothing', ''],
		['a beginning', 'mainsp'],
		['a part', 'spring'],
		['another case', 'MAINSPRING'],
		['no accents', 'ol fur'],
		['words in another order', 'mainspring letting'],
		['a part of an address', '/pendulum'],
		['another letter', 'meinspring'],
		['another first letter', 'nainspring'],
		['another last letter', 'mainsprinx'],
		['a letter too many', 'mainsprring'],
		['a letter too few', 'mainsprng'],
		['a beginning with a wrong letter', 'mainzp'],
		['two words, each with one', 'leting mainsprng']
	])('finds by %s', (_, typed) => {
		expect(isFound(typed)).toBe(true);
	});

	it.each([
		['two wrong letters', 'meinsprxng'],
		['a short word that is wrong', 'dxe'],
		['one word that is there and one that is not', 'mainspring barrel'],
		['what goes on where the word ends', 'mainsprings of brass'],
		['letters that changed places', 'miansrping']
	])('does not find by %s', (_, typed) => {
		expect(isFound(typed)).toBe(false);
	});
});
