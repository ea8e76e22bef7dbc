import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { linesOf, orderTotal } from './order';
import { MOST_SEATS, readSeats, seatedTerms, seatsFree } from './seats';
import { amountDue, withDiscount, type Terms } from './terms';

const MONTH = { count: 1, unit: 'month' } as const;
const terms: Terms = {
	...{ currency: 'EUR', firstMinor: 900, feeMinor: 500 },
	then: { kind: 'more', times: null, amountMinor: 900, every: MONTH, firstLasts: null }
};
const tenth = { off: { kind: 'percent', percent: 10 }, payments: null } as const;

describe('what a price asks for several', () => {
	// Worked by hand: five times 9.00 and 5.00 once each; a tenth of 45.00 are 4.50.
	test.each<[string, Terms, number, number, number | null]>([
		['for one as it is', terms, 1, 1400, 900],
		['for five', terms, 5, 7000, 4500],
		['for five with a tenth off', withDiscount(seatedTerms(terms, 5), tenth), 1, 6550, 4050],
		[
			'for five with an amount off, once',
			withDiscount(seatedTerms(terms, 5), {
				off: { kind: 'amount', minor: 1000, currency: 'EUR' },
				payments: 1
			}),
			...([1, 6000, 4500] as const)
		],
		['for three, paid once', { ...terms, feeMinor: 0, then: { kind: 'nothing' } }, 3, 2700, null]
	])('%s', (_, of, seats, first, next) => {
		const seated = seatedTerms(of, seats);
		expect(orderTotal(linesOf(seated, { kind: 'none' }))).toBe(first);
		expect(amountDue(seated, 1)).toBe(next);
	});

	it('is so many times what it asks of one, at every due', () => {
		const price = fc.record({ first: fc.nat(1e7), fee: fc.nat(1e6), then: fc.integer({ min: 1, max: 1e7 }) });
		fc.assert(
			fc.property(
				price,
				fc.integer({ min: 1, max: MOST_SEATS }),
				fc.nat(5),
				({ first, fee, then }, seats, due) => {
					const one: Terms = {
						...{ currency: 'EUR', firstMinor: first, feeMinor: fee },
						then: { kind: 'more', times: 4, amountMinor: then, every: MONTH, firstLasts: null }
					};
					const asked = amountDue(one, due);
					expect(amountDue(seatedTerms(one, seats), due)).toBe(asked === null ? null : asked * seats);
				}
			),
			{ seed: 20_261_130, numRuns: 500 }
		);
	});
});

test.each([
	['', 1],
	[' ', 1],
	['1', 1],
	[' 12 ', 12],
	['200', 200],
	['201', null],
	['0', null],
	['-1', null],
	['1.5', null],
	['1e2', null],
	['five', null],
	['99999', null]
])('“%s” is read as %s', (typed, expected) => {
	expect(readSeats(typed)).toBe(expected);
});

test.each([
	[5, 0, 4],
	[5, 4, 0],
	[5, 9, 0],
	[1, 0, 0]
])('of %i seats with %i given to others %i are free', (seats, given, free) => {
	expect(seatsFree(seats, given)).toBe(free);
});
