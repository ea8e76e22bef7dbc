/** What is taken off, as somebody typed it, read into a discount. */
import { MOST_PAYMENTS, type Discount, type Off } from './discount';
import { parseAmount, type AmountProblem } from './money';

/** What the fields hold, as typed. */
export interface TypedOff {
	offKind: 'percent' | 'amount';
	percent: string;
	offAmount: string;
	offCurrency: string;
	/** Of which payments. */
	offOf: 'first' | 'some' | 'all';
	/** Of how many. */
	offPayments: string;
}

export type OffProblem =
	| { field: 'percent'; code: 'not-a-percentage' }
	| { field: 'offAmount'; code: AmountProblem }
	| { field: 'offPayments'; code: 'not-a-count'; most: number };

export type ReadOff = { ok: true; discount: Discount } | { ok: false; problem: OffProblem };

/** Stops at the first thing that is wrong. */
export function readOff(typed: TypedOff): ReadOff {
	const off = readPart(typed);
	if (!('kind' in off)) return { ok: false, problem: off };
	if (typed.offOf !== 'some')
		return { ok: true, discount: { off, payments: typed.offOf === 'first' ? 1 : null } };
	const payments = wholeIn(typed.offPayments, MOST_PAYMENTS);
	return payments === null
		? { ok: false, problem: { field: 'offPayments', code: 'not-a-count', most: MOST_PAYMENTS } }
		: { ok: true, discount: { off, payments } };
}

function readPart(typed: TypedOff): Off | OffProblem {
	if (typed.offKind === 'percent') {
		const percent = wholeIn(typed.percent.replace(/\s*%\s*$/, ''), 100);
		return percent === null ? { field: 'percent', code: 'not-a-percentage' } : { kind: 'percent', percent };
	}
	const read = parseAmount(typed.offAmount, typed.offCurrency);
	return read.ok ? { kind: 'amount', ...read.money } : { field: 'offAmount', code: read.code };
}

function wholeIn(text: string, most: number): number | null {
	if (!/^\d{1,4}$/.test(text.trim())) return null;
	const value = Number(text);
	return value >= 1 && value <= most ? value : null;
}
