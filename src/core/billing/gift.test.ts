import { describe, expect, it } from 'vitest';
import { giftOf, giftState, tellAt, TOLD_WITHIN_DAYS, type GiftFacts } from './gift';
import type { PlanAccess } from './plan-access';
import type { Step, Terms, Then } from './terms';

const MONTH: Step = { count: 1, unit: 'month' };
const again = (of: Partial<Extract<Then, { kind: 'more' }>> = {}): Then => ({
	...{ kind: 'more', times: null, amountMinor: 1200, every: MONTH, firstLasts: null },
	...of
});
const terms = (firstMinor: number, then: Then = { kind: 'nothing' }, feeMinor = 0): Terms => ({
	...{ currency: 'EUR', firstMinor, feeMinor, then }
});
const ONCE: Then = { kind: 'nothing' };
const WHILE_PAID: PlanAccess = { kind: 'while-paid' };
const FOR_GOOD: PlanAccess = { kind: 'for-good' };
const QUARTER: PlanAccess = { kind: 'length', length: { count: 3, unit: 'month' } };
const UNTIL: PlanAccess = { kind: 'until', at: Date.UTC(2027, 0, 1) };

describe('what can be given, and what is paid for it', () => {
	it.each<[string, Terms, PlanAccess, number | null, PlanAccess | null]>([
		['what is paid once, for good', terms(4900), FOR_GOOD, 4900, FOR_GOOD],
		['what is paid once, for a length', terms(4900), QUARTER, 4900, QUARTER],
		['what is paid once, until a date', terms(4900), UNTIL, 4900, UNTIL],
		['what is paid once, while paid, which is for good', terms(4900), WHILE_PAID, 4900, WHILE_PAID],
		[
			'a span of what is paid by the month',
			terms(1200, again()),
			WHILE_PAID,
			1200,
			{ kind: 'length', length: MONTH }
		],
		// For good means while it is paid there.
		[
			'the same where the plan says for good',
			terms(1200, again()),
			FOR_GOOD,
			1200,
			{ kind: 'length', length: MONTH }
		],
		[
			'a whole span, whatever the first stretch costs',
			terms(100, again({ firstLasts: { count: 1, unit: 'week' } }), 500),
			...([WHILE_PAID, 1200, { kind: 'length', length: MONTH }] as const)
		],
		[
			'a span that is free at first',
			terms(0, again({ every: { count: 1, unit: 'year' } })),
			...([WHILE_PAID, 1200, { kind: 'length', length: { count: 1, unit: 'year' } }] as const)
		],
		['nothing of what asks for nothing', terms(0), FOR_GOOD, null, null],
		['nothing of instalments', terms(1200, again({ times: 3 })), FOR_GOOD, null, null],
		['nothing of what goes on and ends by itself', terms(1200, again()), QUARTER, null, null],
		['nothing of what goes on until a date', terms(1200, again()), UNTIL, null, null]
	])('%s', (_, of, access, paidMinor, opens) => {
		const gift = giftOf(of, access);
		expect(gift?.terms.firstMinor ?? null).toBe(paidMinor);
		expect(gift?.access ?? null).toEqual(opens);
		expect(gift?.terms.then ?? ONCE).toEqual(ONCE);
	});

	it('keeps the joining fee of what is paid once, and drops that of what is paid again and again', () => {
		expect(giftOf(terms(4900, ONCE, 500), FOR_GOOD)?.terms.feeMinor).toBe(500);
		expect(giftOf(terms(1200, again(), 500), WHILE_PAID)?.terms.feeMinor).toBe(0);
	});
});

describe('when somebody is told', () => {
	const now = Date.UTC(2026, 10, 29, 15, 30);
	it.each<[string, string | null, string, ReturnType<typeof tellAt>]>([
		['today: at once', '2026-11-29', 'Europe/Berlin', { ok: true, at: now }],
		['no day: at once', null, 'Europe/Berlin', { ok: true, at: now }],
		// 8.00 in Berlin in winter is 7.00 UTC.
		['in the morning of the day', '2026-12-24', 'Europe/Berlin', { ok: true, at: Date.UTC(2026, 11, 24, 7) }],
		['the same in summer time', '2027-07-01', 'Europe/Berlin', { ok: true, at: Date.UTC(2027, 6, 1, 6) }],
		['yesterday', '2026-11-28', 'Europe/Berlin', { ok: false, code: 'over' }],
		// In Auckland it is the 30th already.
		['what is over in the publisher’s zone', '2026-11-29', 'Pacific/Auckland', { ok: false, code: 'over' }],
		['a year and a half ahead', '2028-05-01', 'Europe/Berlin', { ok: false, code: 'too-far' }]
	])('%s', (_, day, zone, expected) => {
		expect(tellAt(day, zone, now)).toEqual(expected);
	});

	it('takes days up to a year ahead', () => {
		const last = new Date(now + (TOLD_WITHIN_DAYS - 1) * 86_400_000).toISOString().slice(0, 10);
		expect(tellAt(last, 'UTC', now).ok).toBe(true);
	});
});

describe('the state of a gift', () => {
	const facts = (of: Partial<GiftFacts> = {}): GiftFacts => ({
		...{ isPaid: true, isTakenBack: false, toldAt: null, openedAt: null, ...of }
	});
	it.each<[ReturnType<typeof giftState>, Partial<GiftFacts>]>([
		['unpaid', { isPaid: false }],
		['kept', {}],
		['told', { toldAt: 1 }],
		['open', { toldAt: 1, openedAt: 2 }],
		['given-back', { isTakenBack: true }],
		['given-back', { isTakenBack: true, toldAt: 1 }],
		// Its agreement says what has become of it.
		['open', { isTakenBack: true, toldAt: 1, openedAt: 2 }]
	])('%s', (state, of) => {
		expect(giftState(facts(of))).toBe(state);
	});
});
