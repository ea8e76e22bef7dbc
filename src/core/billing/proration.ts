/**
 * What of a payment is not used up yet, and what a move to another price asks for.
 *
 * By the second of the period that was paid for, rounded down to the minor unit: in favour of neither by more than one of
 * them. Example: 12.00 paid for 30 days, of which 10 have passed, is worth 8.00; to move to 20.00 asks for 12.00 more.
 */
import type { Instant } from '../time/instant';

const SECOND_MS = 1000;

export interface Rest {
	/** Seconds of the period that were paid for, and that are left. */
	paidSeconds: number;
	leftSeconds: number;
	worthMinor: number;
}

/** @param from and @param through the period that the amount paid for, `[from, through)` */
export function restOf(amountMinor: number, from: Instant, through: Instant, at: Instant): Rest {
	const paidSeconds = Math.floor((through - from) / SECOND_MS);
	if (paidSeconds <= 0) return { paidSeconds: 0, leftSeconds: 0, worthMinor: 0 };
	const left = Math.ceil((through - at) / SECOND_MS);
	const leftSeconds = Math.min(paidSeconds, Math.max(0, left));
	// Amounts times seconds pass what a double holds exactly.
	const worthMinor = Number((BigInt(amountMinor) * BigInt(leftSeconds)) / BigInt(paidSeconds));
	return { paidSeconds, leftSeconds, worthMinor };
}

export interface Move {
	/** What is credited of it, at most the new price. */
	creditMinor: number;
	asksMinor: number;
	/** What the rest is worth beyond the new price. */
	beyondMinor: number;
}

/** What moving to a price asks for now, with what the present one is worth still. */
export function moveTo(priceMinor: number, worthMinor: number): Move {
	const creditMinor = Math.min(priceMinor, worthMinor);
	return { creditMinor, asksMinor: priceMinor - creditMinor, beyondMinor: worthMinor - creditMinor };
}
