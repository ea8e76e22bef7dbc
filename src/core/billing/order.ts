/**
 * What an order consists of, and the states it goes through.
 *
 * An order is a few lines, each with what it costs, what is taken off and what is to be paid; its total is theirs, and is summed
 * up here and nowhere else. Example: a plan for 12.00 with a code for a tenth off, and 5.00 once at joining: two lines, of 10.80
 * and 5.00, and a total of 15.80.
 */
import { taxIn, withTax, type Taxed } from './tax';
import { priceDue, type Terms } from './terms';

/**
 * `open`: a pay page leads to its payment. `waiting`: its buyer pays by themselves, and somebody says when the money has come
 * in. `part-paid`: some of it has, and the rest is waited for. `replaced`: another order stands in its place. `given-back`: what came in for it went back.
 */
export const ORDER_STATES = [
	'open',
	'waiting',
	'part-paid',
	'paid',
	'refused',
	'replaced',
	'expired',
	'given-back'
] as const;
export type OrderState = (typeof ORDER_STATES)[number];

/** `part`: some of the money came in. `had-already`: it was paid by somebody who holds what it is for. `ran-out`: nobody paid in time. */
export const ORDER_EVENTS = ['paid', 'had-already', 'refused', 'ran-out', 'replaced', 'part'] as const;
export type OrderEvent = (typeof ORDER_EVENTS)[number];

const UNPAID: Partial<Record<OrderEvent, OrderState>> = { 'ran-out': 'expired', replaced: 'replaced' };
/** Whatever has become of an order, money that comes in for it counts: the pay page was faster. */
const COMES_IN: Partial<Record<OrderEvent, OrderState>> = { paid: 'paid', 'had-already': 'given-back' };
const NEXT: Readonly<Record<OrderState, Partial<Record<OrderEvent, OrderState>>>> = {
	open: { ...COMES_IN, ...UNPAID },
	waiting: { ...COMES_IN, ...UNPAID, refused: 'refused', part: 'part-paid' },
	'part-paid': { ...COMES_IN, ...UNPAID, refused: 'refused' },
	refused: COMES_IN,
	replaced: COMES_IN,
	expired: COMES_IN,
	'given-back': { paid: 'paid' },
	// Paid twice, it stays paid: the second payment goes back by itself.
	paid: {}
};

/** What becomes of an order; `null`: nothing, it stays as it is. */
export function orderAfter(state: OrderState, event: OrderEvent): OrderState | null {
	return NEXT[state][event] ?? null;
}

/** States in which its buyer pays by themselves, and somebody says what came in. */
export const AWAITED = ['waiting', 'part-paid'] as const satisfies readonly OrderState[];

export function isAwaited(state: OrderState): state is (typeof AWAITED)[number] {
	return AWAITED.some((one) => one === state);
}

/** Whether it stands for its buyer and what it is of: there is one of these for each. */
export function isStanding(state: OrderState): boolean {
	return state === 'open' || isAwaited(state);
}

/**
 * `plan`: what is paid first for it. `fee`: once at joining. `move`: from one rung to another. `extra`: taken by one press after
 * paying for something else.
 */
export const LINE_KINDS = ['plan', 'fee', 'move', 'extra'] as const;
export type LineKind = (typeof LINE_KINDS)[number];

/** The line that says what an order is of: every order has one. */
export const MAIN_KINDS = ['plan', 'move', 'extra'] as const satisfies readonly LineKind[];

/** Amounts in minor units of one currency. */
export interface LineAmounts {
	kind: LineKind;
	amountMinor: number;
	discountMinor: number;
	/** Part of the total, whether it came on top of the price or was in it. */
	taxMinor: number;
	totalMinor: number;
}

/** A line of what is paid under terms, and taxed like that. */
export function lineFor(
	{ tax }: Terms,
	taxed: Taxed,
	line: Pick<LineAmounts, 'kind' | 'amountMinor' | 'discountMinor'>
): LineAmounts {
	const totalMinor = withTax(line.amountMinor - line.discountMinor, tax);
	return { ...line, taxMinor: taxIn(totalMinor, taxed), totalMinor };
}

/** What is paid at joining, a line for each thing. A plan that asks for nothing at first has its line all the same. */
export function linesOf(terms: Terms, taxed: Taxed): LineAmounts[] {
	const { firstMinor, feeMinor } = terms;
	const line = (kind: LineKind, amountMinor: number, discountMinor = 0) =>
		lineFor(terms, taxed, { kind, amountMinor, discountMinor });
	const discountMinor = priceDue(terms, 0)?.discountMinor ?? 0;
	return [line('plan', firstMinor, discountMinor), ...(feeMinor > 0 ? [line('fee', feeMinor)] : [])];
}

export function orderTotal(lines: readonly Pick<LineAmounts, 'totalMinor'>[]): number {
	return lines.reduce((sum, { totalMinor }) => sum + totalMinor, 0);
}
