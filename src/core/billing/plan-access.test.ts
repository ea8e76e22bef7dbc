import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { beginsAt, sellsAt, soldAt, type PlanAccess, type Selling } from './plan-access';

const OPEN: Selling = {
	isOnSale: true,
	access: { kind: 'while-paid' },
	sellsFrom: null,
	sellsUntil: null
};
const until = (at: number): PlanAccess => ({ kind: 'until', at });

describe('a plan is sold', () => {
	test.each([
		['always', OPEN, 10, { kind: 'now', until: null }],
		['never, where it is closed', { ...OPEN, isOnSale: false, sellsFrom: 5 }, 10, { kind: 'not' }],
		[
			'later, before selling opens',
			{ ...OPEN, sellsFrom: 20, sellsUntil: 30 },
			19,
			{ kind: 'later', from: 20 }
		],
		['from the moment on at which it opens', { ...OPEN, sellsFrom: 20 }, 20, { kind: 'now', until: null }],
		['up to the moment at which it closes', { ...OPEN, sellsUntil: 30 }, 29, { kind: 'now', until: 30 }],
		['not at that moment', { ...OPEN, sellsUntil: 30 }, 30, { kind: 'not' }],
		[
			'not after what it opens has ended',
			{ ...OPEN, access: until(25), sellsUntil: 30 },
			25,
			{ kind: 'not' }
		],
		[
			'no longer than it opens',
			{ ...OPEN, access: until(25), sellsUntil: 30 },
			24,
			{ kind: 'now', until: 25 }
		],
		[
			'never, where it opens after its end',
			{ ...OPEN, access: until(25), sellsFrom: 26 },
			10,
			{ kind: 'not' }
		],
		['no more, where nothing is left of it', { ...OPEN, isFull: true }, 10, { kind: 'full' }],
		[
			'later, where nothing is left of it and it is not sold yet',
			{ ...OPEN, isFull: true, sellsFrom: 20 },
			10,
			{ kind: 'later', from: 20 }
		],
		[
			'never, where nothing is left of it and it has closed',
			{ ...OPEN, isFull: true, sellsUntil: 5 },
			10,
			{ kind: 'not' }
		],
		['never, where it opens as it closes', { ...OPEN, sellsFrom: 30, sellsUntil: 30 }, 10, { kind: 'not' }]
	] as [string, Selling, number, object][])('%s', (_, plan, now, expected) => {
		expect(soldAt(plan, now)).toEqual(expected);
	});

	it('in one stretch, which begins when it says that it will and ends when it says that it does', () => {
		const moment = fc.option(fc.integer({ min: 0, max: 40 }));
		const access = fc.oneof(
			fc.constant<PlanAccess>({ kind: 'for-good' }),
			fc.integer({ min: 0, max: 40 }).map(until)
		);
		fc.assert(
			fc.property(moment, moment, access, (sellsFrom, sellsUntil, access) => {
				const plan = { isOnSale: true, access, sellsFrom, sellsUntil };
				const sold = Array.from({ length: 42 }, (_, now) => sellsAt(plan, now));
				const first = sold.indexOf(true);
				const last = sold.lastIndexOf(true);
				expect(sold.slice(Math.max(0, first), last + 1).every((one) => first === -1 || one)).toBe(true);
				for (let now = 0; now < 42; now++) {
					const said = soldAt(plan, now);
					if (said.kind === 'later') expect(said.from).toBe(first);
					if (said.kind === 'now' && said.until !== null) expect(said.until).toBe(last + 1);
					if (said.kind === 'not') expect(first === -1 || now > last).toBe(true);
				}
			}),
			{ numRuns: 2000 }
		);
	});
});

test.each([
	['at once, without a first day', undefined, 10, 10],
	['at once, where there is none', null, 10, 10],
	['on the first day, while that is to come', 20, 19, 20],
	['at once on it', 20, 20, 20],
	['at once after it', 20, 21, 21]
])('what is bought begins %s', (_, firstDay, now, expected) => {
	expect(beginsAt(firstDay === undefined ? {} : { firstDay }, now)).toBe(expected);
});
