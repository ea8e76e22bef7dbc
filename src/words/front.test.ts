import { describe, expect, it, test } from 'vitest';
import { FRONT, type FrontKey } from './en/front';
import { MAIL_KEYS, MAIL_NAMES } from './en/mail';
import { frontWords } from './front';
import { LANGUAGE_CODES, LANGUAGES } from './languages';
import { namesOf, problemOf } from './say';

const KEYS = Object.keys(FRONT) as FrontKey[];

describe.each(LANGUAGE_CODES)('the words in %s', (code) => {
	const { front, mail, locale } = LANGUAGES[code];

	it('speak of what the English ones do, in messages that can be read', () => {
		for (const key of KEYS)
			expect(namesOf(front[key], locale), `${key}: ${front[key]}`).toEqual(namesOf(FRONT[key], 'en'));
	});

	it('have a mail for every occasion, with no name that is not known', () => {
		for (const key of MAIL_KEYS)
			for (const pattern of [mail[key].subject, mail[key].text, mail[key].button ?? ''])
				expect(problemOf(pattern, MAIL_NAMES[key], locale), `${key}: ${pattern}`).toBeNull();
	});
});

describe('dates, amounts and lists', () => {
	const at = Date.parse('2026-03-31T18:05Z');

	// Numbers and dates as the Unicode CLDR has them, by the engine's own Intl.
	test.each([
		['en', '1,250.50 EUR', '31 Mar 2026', 'a, b and c'],
		['de', '1.250,50 EUR', '31. März 2026', 'a, b und c']
	])('are those of %s', (code, money, day, list) => {
		const words = frontWords(code);
		expect(words.money(125_050, 'EUR').replace(/\s/g, ' ')).toBe(money);
		expect(words.day(at, 'Europe/Vienna')).toBe(day);
		expect(words.list(['a', 'b', 'c'])).toBe(list);
	});

	it('have as many decimals as the currency', () => {
		expect(frontWords('en').money(1250, 'JPY')).toBe('1,250 JPY');
		expect(frontWords('en').money(1250, 'KWD')).toBe('1.250 KWD');
	});

	it('name the zone with a time of day', () => {
		expect(frontWords('en').moment(at, 'Europe/Vienna')).toBe('31 Mar 2026, 20:05 CEST');
		expect(frontWords('en').moment(at, 'UTC')).toBe('31 Mar 2026, 18:05 UTC');
	});

	it('count bytes', () => {
		expect(frontWords('en').bytes(0)).toBe('0 bytes');
		expect(frontWords('en').bytes(1536)).toBe('1.5 kB');
	});
});

describe('a message', () => {
	it('is said in the site’s language, and in English where there is no such', () => {
		expect(frontWords('de').say('state.inside', { count: 1 })).toBe('1 Stück darin');
		expect(frontWords('xx').say('state.inside', { count: 6 })).toBe('6 inside');
		expect(frontWords(undefined).say('site.plans')).toBe('Plans');
	});

	it('is cut where something other than text stands in it', () => {
		expect(frontWords('en').parts('account.renews', { amount: '9.00 EUR' }, ['day'])).toEqual([
			{ text: 'Renews on ', thing: null },
			{ text: '', thing: 'day' },
			{ text: ' for 9.00 EUR.', thing: null }
		]);
		expect(frontWords('en').parts('price.once', {}, ['amount'])).toEqual([
			{ text: '', thing: 'amount' },
			{ text: ' once', thing: null }
		]);
	});

	it('that came as a key is said, and anything else stays as it is', () => {
		const { maybe } = frontWords('en');
		expect(maybe('code.over')).toBe('This code has run out.');
		expect(maybe('Choose a plan.')).toBe('Choose a plan.');
		expect(maybe('toString')).toBe('toString');
	});
});
