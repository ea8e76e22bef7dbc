import { describe, expect, it } from 'vitest';
import { stepped } from './stepped';

const FREE = { min: null, max: null };

describe('one more or one less of what is typed', () => {
	it.each([
		['3', 1, FREE, '4'],
		['3', -1, FREE, '2'],
		['0', -1, FREE, '-1'],
		['0', -1, { min: 0, max: null }, '0'],
		['100', 1, { min: null, max: 100 }, '100'],
		[' 7 ', 1, FREE, '8'],
		['2,5', 0.5, FREE, '3'],
		['0.1', 0.2, FREE, '0.3'],
		['', 1, FREE, '0'],
		['', 1, { min: 2, max: 20 }, '2'],
		['many', -1, { min: 1, max: null }, '1']
	])('%j by %j within %j is %j', (typed, by, within, wanted) => {
		expect(stepped(typed, by, within)).toBe(wanted);
	});
});
