/**
 * Money of this month beside that of the last: what came in by each day of the month, less what went back by then.
 *
 * What came in is payments that were captured; what went back is refunds, and what banks have taken (and have given back again).
 * Example: 100.00 on the 1st and 40.00 on the 3rd, of which 10.00 are refunded on the 4th, are 100, 100, 140, 130 by the days.
 */
import { addCalendar, readLocal, writeLocal } from '../time/calendar';
import type { Instant } from '../time/instant';

export interface Moved {
	at: Instant;
	/** In minor units of one currency; below 0: it went back. */
	minor: number;
}

export interface MonthsBeside {
	/** Day by day of the month, from the 1st: what had come in by its end. `null`: the month has no such day, or not yet. */
	days: { day: number; thisMinor: number | null; lastMinor: number | null }[];
	thisMinor: number;
	/** By the same day of the last month; where it was shorter, by its end. */
	lastByNowMinor: number;
	lastMinor: number;
}

/** The first moments of this month and of the last, in a zone. */
export function monthsBefore(now: Instant, zone: string): { thisMonth: Instant; lastMonth: Instant } {
	const read = readLocal(`${writeLocal(now, zone).slice(0, 7)}-01T00:00`, zone);
	if (!read.ok) throw new RangeError(`No month begins before ${now} in ${zone}`);
	return { thisMonth: read.at, lastMonth: addCalendar(read.at, -1, 'month', zone) };
}

/** @param all of both months; what is of neither is left out */
export function monthsBeside(all: readonly Moved[], now: Instant, zone: string): MonthsBeside {
	const dayOf = (at: Instant) => Number(writeLocal(at, zone).slice(8, 10));
	const { thisMonth, lastMonth } = monthsBefore(now, zone);
	const sums = (from: Instant, before: Instant, days: number) => {
		const each = Array.from({ length: days }, () => 0);
		for (const { at, minor } of all)
			if (at >= from && at < before) each[dayOf(at) - 1] = (each[dayOf(at) - 1] ?? 0) + minor;
		let sum = 0;
		return each.map((minor) => (sum += minor));
	};
	const today = dayOf(now);
	const ofLast = sums(lastMonth, thisMonth, dayOf(thisMonth - 1));
	const ofThis = sums(thisMonth, now + 1, today);
	const most = Math.max(ofLast.length, today);
	return {
		days: Array.from({ length: most }, (_, n) => ({
			...{ day: n + 1, thisMinor: ofThis[n] ?? null, lastMinor: ofLast[n] ?? null }
		})),
		thisMinor: ofThis.at(-1) ?? 0,
		lastByNowMinor: ofLast[Math.min(today, ofLast.length) - 1] ?? 0,
		lastMinor: ofLast.at(-1) ?? 0
	};
}
