import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { runs } from '../../../tests/support/runs';
import { linesOf, orderTotal } from './order';
import { moveTo, restOf } from './proration';
import { UNTAXED } from './tax';

const DAY = 86_400_000;
const FROM = Date.parse('2026-04-01T00:00Z');
const THROUGH = FROM + 30 * DAY;

describe('what of a payment is not used up', () => {
	// Worked by hand: 12.00 for 30 days.
	test.each([
		['at the first moment, all of it', 0, 1200],
		['after ten days, two thirds', 10 * DAY, 800],
		['after half, half', 15 * DAY, 600],
		['a second later, a cent less', 15 * DAY + 1000, 599],
		['within a second, the same', 15 * DAY + 1, 600],
		['a second before the end, nothing of 12.00', 30 * DAY - 1000, 0],
		['at the end, nothing', 30 * DAY, 0],
		['after the end, nothing', 31 * DAY, 0],
		['before it begins, all of it', -DAY, 1200]
	])('%s', (_name, after, worth) => {
		expect(restOf(1200, FROM, THROUGH, FROM + after).worthMinor).toBe(worth);
	});

	it('is told in seconds', () => {
		expect(restOf(1200, FROM, THROUGH, FROM + 10 * DAY)).toEqual({
			paidSeconds: 2_592_000,
			leftSeconds: 1_728_000,
			worthMinor: 800
		});
	});

	it('is nothing of no time', () => {
		expect(restOf(1200, FROM, FROM, FROM).worthMinor).toBe(0);
		expect(restOf(1200, THROUGH, FROM, FROM).worthMinor).toBe(0);
	});

	it('never grows, and is exact where amounts times seconds pass what a double holds', () => {
		const year = 366 * DAY;
		expect(restOf(10_000_000_000, FROM, FROM + year, FROM + year / 3).worthMinor).toBe(6_666_666_666);
		fc.assert(
			fc.property(
				fc.integer({ min: 0, max: 10_000_000_000 }),
				fc.integer({ min: 1, max: 400 * DAY }),
				fc.integer({ min: 0, max: 400 * DAY }),
				fc.integer({ min: 0, max: DAY }),
				(amount, length, after, later) => {
					const worth = (at: number) => restOf(amount, FROM, FROM + length, FROM + at).worthMinor;
					expect(worth(after)).toBeGreaterThanOrEqual(worth(after + later));
					expect(worth(after)).toBeLessThanOrEqual(amount);
					expect(worth(after)).toBeGreaterThanOrEqual(0);
				}
			),
			{ seed: 20_261_128, numRuns: runs(500) }
		);
	});
});

describe('moving to another price', () => {
	test.each([
		['asks for the difference', 2000, 800, { creditMinor: 800, asksMinor: 1200, beyondMinor: 0 }],
		[
			'asks for nothing where the rest is worth it',
			800,
			800,
			{ creditMinor: 800, asksMinor: 0, beyondMinor: 0 }
		],
		['says what is left beyond it', 500, 800, { creditMinor: 500, asksMinor: 0, beyondMinor: 300 }],
		['asks for all where nothing is left', 2000, 0, { creditMinor: 0, asksMinor: 2000, beyondMinor: 0 }]
	])('%s', (_name, price, worth, expected) => {
		expect(moveTo(price, worth)).toEqual(expected);
	});
});

describe('an order', () => {
	it('has a line for the plan and one for the fee, and their sum', () => {
		const then = { kind: 'nothing' as const };
		const lines = linesOf({ currency: 'EUR', firstMinor: 1200, feeMinor: 500, then }, UNTAXED);
		expect(lines.map(({ kind, totalMinor }) => [kind, totalMinor])).toEqual([
			['plan', 1200],
			['fee', 500]
		]);
		expect(orderTotal(lines)).toBe(1700);
		expect(linesOf({ currency: 'EUR', firstMinor: 0, feeMinor: 0, then }, UNTAXED)).toMatchObject([
			{ kind: 'plan', totalMinor: 0 }
		]);
	});
});
