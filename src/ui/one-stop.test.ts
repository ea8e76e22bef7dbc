import { describe, expect, it } from 'vitest';
import { nextOf } from './one-stop';

describe('the keyboard in a list', () => {
	it.each<[string, number, number, number | null]>([
		['ArrowDown', 0, 3, 1],
		['ArrowDown', 2, 3, 2],
		['ArrowUp', 2, 3, 1],
		['ArrowUp', 0, 3, 0],
		['Home', 2, 3, 0],
		['End', 0, 3, 2],
		['End', 0, 1, 0],
		['ArrowRight', 0, 3, null],
		['Enter', 1, 3, null],
		['a', 1, 3, null]
	])('%s at %i of %i', (key, at, count, to) => {
		expect(nextOf(key, at, count)).toBe(to);
	});
});
