/**
 * What is taken off a price, and of how many payments.
 *
 * It is taken off what the price asks for, never off what is paid once at joining, and never makes more of it than nothing. A
 * hundredth is rounded to the nearest minor unit, half of one in favour of the buyer. Example: 15 percent of 9.90 are 1.49
 * (1.485), which leaves 8.41.
 */

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
