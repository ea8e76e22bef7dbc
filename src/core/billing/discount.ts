/**
 * What is taken off a price, and of how many payments.
 *
 * It is taken off what the price asks for, never off what is paid once at joining, and never makes more of it than nothing. A
 * hundredth is rounded to the nearest minor unit, half of one in favour of the buyer. Example: 15 percent of 9.90 are 1.49
 * (1.485), which leaves 8.41.
 */
import { MINOR_DIGITS, MAX_AMOUNT_MAJOR } from './money';

export type Off =
	| {
			kind: 'percent';
			/** Whole, from 1 to 100. */
			percent: number;
	  }
	| { kind: 'amount'; minor: number; currency: string };

export interface Discount {
	off: Off;
	/** Of how many payments, those that ask for nothing not counted; `null`: of all. */
	payments: number | null;
}

/** What holders of other plans pay less, without a code. */
export interface LessFor {
	/** Of any of them. */
	planIds: readonly string[];
	discount: Discount;
}

/** More payments than that are all. */
export const MOST_PAYMENTS = 120;

export type DiscountProblem =
	'not-a-percentage' | 'not-an-amount' | 'unknown-currency' | 'too-large' | 'not-a-number-of-payments';

/** All that is wrong with a discount, in this order. */
export function discountProblems({ off, payments }: Discount): DiscountProblem[] {
	const isCount = payments === null || isWhole(payments, 1, MOST_PAYMENTS);
	return [...offProblems(off), ...(isCount ? [] : ['not-a-number-of-payments' as const])];
}

function offProblems(off: Off): DiscountProblem[] {
	if (off.kind === 'percent') return isWhole(off.percent, 1, 100) ? [] : ['not-a-percentage'];
	if (!Object.hasOwn(MINOR_DIGITS, off.currency)) return ['unknown-currency'];
	if (!isWhole(off.minor, 1, Number.MAX_SAFE_INTEGER)) return ['not-an-amount'];
	return off.minor > MAX_AMOUNT_MAJOR * 10 ** (MINOR_DIGITS[off.currency] ?? 2) ? ['too-large'] : [];
}

function isWhole(value: number, least: number, most: number): boolean {
	return Number.isSafeInteger(value) && value >= least && value <= most;
}

/** Whether it is taken off prices of that currency. */
export function isOffOf({ off }: Discount, currency: string): boolean {
	return off.kind === 'percent' || off.currency === currency;
}

/**
 * @param amountMinor what is asked for without it
 * @returns what is taken off, in minor units
 */
export function takenOff(off: Off, amountMinor: number, currency: string): number {
	if (off.kind === 'amount') return off.currency === currency ? Math.min(off.minor, amountMinor) : 0;
	// Prices end at 100,000.000: a hundred times as much is held exactly.
	return Math.floor((amountMinor * off.percent + 50) / 100);
}
