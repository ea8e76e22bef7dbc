import { describe, expect, it } from 'vitest';
import { contains, earlierEnd, joined, laterEnd } from './instant';

describe('intervals', () => {
	it('holds at the start and not at the end', () => {
		const interval = { start: 10, end: 20 };
		expect([9, 10, 19, 20].map((t) => contains(interval, t))).toEqual([false, true, true, false]);
		expect(contains({ start: 10, end: null }, 1e15)).toBe(true);
	});

	it('takes an open end as later than every other', () => {
		expect([earlierEnd(null, 5), earlierEnd(5, null), earlierEnd(4, 5)]).toEqual([5, 5, 4]);
		expect([laterEnd(null, 5), laterEnd(4, 5)]).toEqual([null, 5]);
	});

	it('joins what touches or overlaps, drops what is empty and leaves gaps', () => {
		const parts = [
			{ start: 30, end: 40 },
			{ start: 0, end: 10 },
			{ start: 10, end: 12 },
			{ start: 5, end: 8 },
			{ start: 20, end: 20 }
		];
		expect(joined(parts)).toEqual([
			{ start: 0, end: 12 },
			{ start: 30, end: 40 }
		]);
		expect(joined(parts, 18)).toEqual([{ start: 0, end: 40 }]);
	});
});
