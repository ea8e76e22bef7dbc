import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { addCalendar, readLocal } from '../time/calendar';
import type { Closes, Window } from './model';
import { barOf, COLUMNS, moved, resized, spanOf, type Board, type BoardUnit } from './release-bars';

const local = (text: string) => {
	const read = readLocal(text, 'Europe/Vienna');
	return read.ok ? read.at : NaN;
};
const JOINED = local('2026-03-02T10:00');
const board = (unit: BoardUnit): Board => ({ joinedAt: JOINED, unit, zone: 'Europe/Vienna' });
const WEEKS = board('week');
const never: Closes = { kind: 'never' };
const after = (count: number, unit: BoardUnit, closes: Closes = never): Window => ({
	opens: { kind: 'after', count, unit },
	closes
});
const weeks = (count: number): Closes => ({ kind: 'after', count, unit: 'week' });

describe('a bar', () => {
	it('stands where its window opens, over a change of the clocks, too', () => {
		// The clocks of Vienna go forward on 29 March 2026.
		expect(barOf(spanOf(after(5, 'week'), WEEKS), WEEKS)).toEqual({ from: 5, to: null });
		expect(barOf(spanOf(after(28, 'day'), WEEKS), WEEKS)).toEqual({ from: 4, to: null });
		expect(barOf(spanOf(after(2, 'month'), board('month')), board('month'))).toEqual({ from: 2, to: null });
	});

	it('ends where it closes, and begins with joining at the earliest', () => {
		expect(barOf(spanOf(after(1, 'week', weeks(3)), WEEKS), WEEKS)).toEqual({ from: 1, to: 4 });
		const early: Window = { opens: { kind: 'on', at: local('2026-01-01T00:00') }, closes: never };
		expect(barOf(spanOf(early, WEEKS), WEEKS)).toEqual({ from: 0, to: null });
	});
});

describe('moving', () => {
	test.each<[string, Window, number, Window['opens']]>([
		['by whole units', after(1, 'week'), 2, { kind: 'after', count: 3, unit: 'week' }],
		['never before joining', after(1, 'week'), -2, { kind: 'at-once' }],
		['in the board’s unit', after(14, 'day'), 1, { kind: 'after', count: 3, unit: 'week' }],
		[
			'from at once',
			{ opens: { kind: 'at-once' }, closes: never },
			1,
			{ kind: 'after', count: 1, unit: 'week' }
		]
	])('goes %s', (_what, window, by, opens) => {
		expect(moved(window, by, WEEKS).opens).toEqual(opens);
	});

	it('of dates keeps their time of day, and takes the closing along', () => {
		const dated: Window = {
			opens: { kind: 'on', at: local('2026-03-27T18:00') },
			closes: { kind: 'on', at: local('2026-03-28T18:00') }
		};
		expect(moved(dated, 1, WEEKS)).toEqual({
			opens: { kind: 'on', at: local('2026-04-03T18:00') },
			closes: { kind: 'on', at: local('2026-04-04T18:00') }
		});
	});
});

describe('resizing', () => {
	test.each<[string, Window, number, Closes]>([
		['to no less than one unit', after(1, 'week', weeks(1)), -1, weeks(1)],
		['by whole units', after(1, 'week', weeks(1)), 3, weeks(4)],
		['what has no end from where the board ends', after(3, 'week'), -1, weeks(COLUMNS.week - 4)],
		['what has no end no further', after(3, 'week'), 1, never],
		[
			'another unit into the board’s',
			after(1, 'week', { kind: 'after', count: 14, unit: 'day' }),
			1,
			weeks(3)
		]
	])('goes %s', (_what, window, by, closes) => {
		expect(resized(window, by, WEEKS).closes).toEqual(closes);
	});

	it('does not let a date of closing come before the opening', () => {
		const dated: Window = {
			opens: { kind: 'on', at: local('2026-03-27T18:00') },
			closes: { kind: 'on', at: local('2026-03-28T18:00') }
		};
		expect(resized(dated, -1, WEEKS)).toBe(dated);
		expect(resized(dated, 1, WEEKS).closes).toEqual({ kind: 'on', at: local('2026-04-04T18:00') });
	});

	it('and moving lead back, and keep a bar where it began', () => {
		const unit = fc.constantFrom<BoardUnit>('day', 'week', 'month');
		const count = fc.integer({ min: 1, max: 15 });
		fc.assert(
			fc.property(unit, count, count, fc.integer({ min: 1, max: 10 }), (unit, opens, closes, by) => {
				const window = after(opens, unit, { kind: 'after', count: closes, unit });
				expect(moved(moved(window, by, board(unit)), -by, board(unit))).toEqual(window);
				const longer = resized(window, by, board(unit));
				expect(resized(longer, -by, board(unit))).toEqual(window);
				expect(spanOf(longer, board(unit)).start).toBe(addCalendar(JOINED, opens, unit, 'Europe/Vienna'));
			})
		);
	});
});
