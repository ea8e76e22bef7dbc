import { describe, expect, it, test } from 'vitest';
import { isOffOf, takenOff, type Discount, type Off } from './discount';
import { UNTAXED } from './tax';
import { continued, dueAfter, phaseBegun, amountAsked, type Phases } from './phases';
import { linesOf, orderTotal } from './order';
import {
	amountDue,
	isSameTerms,
	priceDue,
	renewingTerms,
	termsFrom,
	totalOf,
	withDiscount,
	type Terms
} from './terms';

const percent = (of: number): Off => ({ kind: 'percent', percent: of });
const euros = (minor: number): Off => ({ kind: 'amount', minor, currency: 'EUR' });
const monthly = renewingTerms({ minor: 1200, currency: 'EUR' }, { count: 1, unit: 'month' });
const once: Terms = { currency: 'EUR', firstMinor: 9900, feeMinor: 500, then: { kind: 'nothing' } };
/** Two weeks for nothing, then 12.00 a month. */
const free: Terms = {
	...monthly,
	firstMinor: 0,
	then: {
		kind: 'more',
		times: null,
		amountMinor: 1200,
		every: { count: 1, unit: 'month' },
		firstLasts: { count: 2, unit: 'week' }
	}
};
/** Four payments of 50.00. */
const instalments: Terms = {
	...{ currency: 'EUR', firstMinor: 5000, feeMinor: 0 },
	then: {
		kind: 'more',
		times: 3,
		amountMinor: 5000,
		every: { count: 1, unit: 'month' },
		firstLasts: null
	}
};
const less = (terms: Terms, off: Off, payments: Discount['payments']) =>
	withDiscount(terms, { off, payments });
const dues = (terms: Terms, count: number) =>
	Array.from({ length: count }, (_, due) => amountDue(terms, due));

describe('what is taken off an amount', () => {
	// Worked by hand. Half a minor unit is the buyer's: 15 percent of 9.90 are 1.485.
	test.each([
		['a tenth', percent(10), 1200, 120],
		['rounded to the nearest', percent(15), 990, 149],
		['rounded down', percent(33), 100, 33],
		['half of one for the buyer', percent(50), 1, 1],
		['of little, nothing', percent(1), 49, 0],
		['all of it', percent(100), 1200, 1200],
		['of nothing, nothing', percent(100), 0, 0],
		['of the highest price, exactly', percent(99), 100_000_000, 99_000_000],
		['an amount', euros(500), 1200, 500],
		['never more than there is', euros(5000), 1200, 1200]
	])('%s', (_name, off, amount, expected) => {
		expect(takenOff(off, amount, 'EUR')).toBe(expected);
	});

	it('is nothing of another currency where it is an amount, and a part of any where it is a part', () => {
		expect(takenOff(euros(500), 1200, 'USD')).toBe(0);
		expect(isOffOf({ off: euros(500), payments: null }, 'USD')).toBe(false);
		expect(isOffOf({ off: euros(500), payments: null }, 'EUR')).toBe(true);
		expect(isOffOf({ off: percent(5), payments: null }, 'USD')).toBe(true);
	});

	it('is never below nothing nor above the amount, and more percent never take less', () => {
		for (const amount of [0, 1, 2, 3, 7, 99, 100, 101, 999, 1200, 100_000_000]) {
			let before = 0;
			for (let part = 1; part <= 100; part++) {
				const off = takenOff(percent(part), amount, 'EUR');
				expect(off).toBeGreaterThanOrEqual(before);
				expect(off).toBeLessThanOrEqual(amount);
				before = off;
			}
			expect(before).toBe(amount);
		}
	});
});

describe('of how many payments', () => {
	test.each([
		['of the first', less(monthly, percent(50), 1), [600, 1200, 1200, 1200]],
		['of the first three', less(monthly, euros(200), 3), [1000, 1000, 1000, 1200]],
		['of all', less(monthly, percent(25), null), [900, 900, 900, 900]],
		['of what is paid once, and not of the fee', less(once, percent(10), 1), [9410, null, null, null]],
		['of all instalments', less(instalments, percent(10), null), [4500, 4500, 4500, 4500]],
		['what asks for nothing is not counted', less(free, percent(50), 1), [0, 600, 1200, 1200]],
		['three months for nothing', less(monthly, percent(100), 3), [0, 0, 0, 1200]],
		['in another currency, nothing', less({ ...monthly, currency: 'USD' }, euros(200), 3), [1200, 1200]]
	])('%s', (_name, terms, expected) => {
		expect(dues(terms, expected.length)).toEqual(expected);
	});

	it('is said of each due with what it would have been', () => {
		expect(priceDue(less(monthly, euros(200), 2), 1)).toEqual({ amountMinor: 1200, discountMinor: 200 });
		expect(priceDue(less(monthly, euros(200), 2), 2)).toEqual({ amountMinor: 1200, discountMinor: 0 });
		expect(priceDue(less(once, euros(200), null), 1)).toBeNull();
	});

	it('is counted into all that is ever paid', () => {
		expect(totalOf(less(instalments, percent(10), null))).toBe(18_000);
		expect(totalOf(less(instalments, percent(10), 1))).toBe(19_500);
		expect(totalOf(less(once, euros(900), 1))).toBe(9500);
		expect(totalOf(less(monthly, percent(10), null))).toBeNull();
	});

	it('goes on where terms are begun anew in the middle, for as many payments as are left', () => {
		for (const terms of [monthly, free, instalments])
			for (const payments of [1, 2, 3, null])
				for (const from of [1, 2, 3]) {
					const whole = less(terms, percent(30), payments);
					const rest = termsFrom(whole, from);
					expect(rest && dues(rest, 3)).toEqual(
						[from, from + 1, from + 2].map((due) => amountDue(whole, due))
					);
				}
	});

	it('is part of what makes terms the same', () => {
		const tenth = less(monthly, percent(10), 1);
		expect(isSameTerms(tenth, { ...tenth })).toBe(true);
		expect(isSameTerms(tenth, monthly)).toBe(false);
		expect(isSameTerms(tenth, less(monthly, percent(10), 2))).toBe(false);
		expect(isSameTerms(tenth, less(monthly, euros(10), 1))).toBe(false);
	});
});

describe('in an agreement', () => {
	const START = Date.parse('2026-01-31T10:00Z');
	const begun = (terms: Terms): Phases => [
		phaseBegun(0, START, 'UTC', { planId: 'workshop', terms, access: { kind: 'while-paid' } })
	];

	it('a due that asks for nothing is a due all the same', () => {
		const phases = begun(less(monthly, percent(100), 2));
		expect(amountAsked(phases, 1)).toBe(0);
		expect(dueAfter(phases, 'UTC', 0)).toBe(1);
	});

	it('goes on after a rest', () => {
		const phases = begun(less(monthly, percent(50), 3));
		const after = continued(phases, 2, { start: START, hasLeeway: false });
		expect(after && dues(after.terms, 3)).toEqual([600, 1200, 1200]);
	});
});

it('stands on the line that it is taken off, and in no other', () => {
	const lines = linesOf(less(once, percent(10), 1), UNTAXED);
	expect(lines).toEqual([
		{ kind: 'plan', amountMinor: 9900, discountMinor: 990, taxMinor: 0, totalMinor: 8910 },
		{ kind: 'fee', amountMinor: 500, discountMinor: 0, taxMinor: 0, totalMinor: 500 }
	]);
	expect(orderTotal(lines)).toBe(9410);
});
