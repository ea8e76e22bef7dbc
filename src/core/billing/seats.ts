/**
 * One may buy a plan for several people: its price is for each of them, and whoever buys it has the first seat.
 *
 * What is taken off in percent is taken off all of it, an amount once. Example: 9.00 a month for each, for five people: 45.00 a
 * month, and with a code for a tenth 40.50.
 */
import type { Terms } from './terms';

/** More is no press of a button: such a sale is talked about. */
export const MOST_SEATS = 200;

/** What a price asks for so many. @param seats from 1 on */
export function seatedTerms(terms: Terms, seats: number): Terms {
	if (seats === 1) return terms;
	const { firstMinor, feeMinor, then } = terms;
	return {
		...terms,
		firstMinor: firstMinor * seats,
		feeMinor: feeMinor * seats,
		then: then.kind === 'nothing' ? then : { ...then, amountMinor: then.amountMinor * seats }
	};
}

/** As somebody typed it; empty: one. `null`: it is no such number. */
export function readSeats(typed: string): number | null {
	if (typed.trim() === '') return 1;
	const seats = /^\d{1,4}$/.test(typed.trim()) ? Number(typed) : 0;
	return seats >= 1 && seats <= MOST_SEATS ? seats : null;
}

/** How many of them are free still. @param given to others than whoever bought them */
export function seatsFree(seats: number, given: number): number {
	return Math.max(0, seats - 1 - given);
}
