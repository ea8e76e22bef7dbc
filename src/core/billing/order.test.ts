import { describe, expect, it, test } from 'vitest';
import {
	isStanding,
	linesOf,
	ORDER_EVENTS,
	ORDER_STATES,
	orderAfter,
	orderTotal,
	type OrderEvent,
	type OrderState
} from './order';
import { renewingTerms } from './terms';
import { UNTAXED } from './tax';

/** What becomes of each state by each event, in the order of `ORDER_EVENTS`; `-`: it stays. */
const TABLE: Record<OrderState, string> = {
	open: 'paid given-back - expired replaced -',
	waiting: 'paid given-back refused expired replaced part-paid',
	'part-paid': 'paid given-back refused expired replaced -',
	paid: '- - - - - -',
	refused: 'paid given-back - - - -',
	replaced: 'paid given-back - - - -',
	expired: 'paid given-back - - - -',
	'given-back': 'paid - - - - -'
};

describe('an order', () => {
	const pairs = ORDER_STATES.flatMap((state) =>
		ORDER_EVENTS.map((event, n): [OrderState, OrderEvent, string] => [
			state,
			event,
			TABLE[state].split(' ')[n] ?? '?'
		])
	);

	test.each(pairs)('that is %s, and then %s: %s', (state, event, expected) => {
		expect(orderAfter(state, event) ?? '-').toBe(expected);
	});

	it('has an answer for every pair', () => {
		expect(pairs).toHaveLength(ORDER_STATES.length * ORDER_EVENTS.length);
		expect(pairs.every(([, , expected]) => expected !== '?')).toBe(true);
	});

	it('that was paid is moved by nothing, whatever follows', () => {
		for (const event of ORDER_EVENTS) expect(orderAfter('paid', event)).toBeNull();
	});

	it('ends by every event that can move it while it stands, but by a part of its money', () => {
		const standing = ORDER_STATES.filter(isStanding);
		expect(standing).toEqual(['open', 'waiting', 'part-paid']);
		for (const state of standing)
			for (const event of ORDER_EVENTS) {
				const next = orderAfter(state, event);
				if (next !== null) expect(isStanding(next)).toBe(event === 'part');
			}
	});
});

describe('the lines of an order', () => {
	// By hand: 12.00 a month and 5.00 once at joining.
	it('are what is paid first, and the fee where there is one', () => {
		const terms = { ...renewingTerms({ minor: 1200, currency: 'EUR' }, { count: 1, unit: 'month' }) };
		expect(
			linesOf({ ...terms, feeMinor: 500 }, UNTAXED).map(({ kind, totalMinor }) => [kind, totalMinor])
		).toEqual([
			['plan', 1200],
			['fee', 500]
		]);
		expect(orderTotal(linesOf({ ...terms, feeMinor: 500 }, UNTAXED))).toBe(1700);
		expect(linesOf(terms, UNTAXED)).toHaveLength(1);
	});

	it('stand for a plan that asks for nothing, too', () => {
		const lines = linesOf(
			{ currency: 'EUR', firstMinor: 0, feeMinor: 0, then: { kind: 'nothing' } },
			UNTAXED
		);
		expect(lines.map(({ kind, totalMinor }) => [kind, totalMinor])).toEqual([['plan', 0]]);
	});
});
