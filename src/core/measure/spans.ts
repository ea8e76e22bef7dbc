/** Spans of days as somebody asks for them, and the months in them. Days are such as 2026-05-31, in the publisher’s zone. */

import { isDay } from '../time/calendar';

/** Both days included. */
export interface Span {
	from: string;
	to: string;
}

/** More months than that are a table that nobody reads. */
export const MOST_MONTHS = 60;

/** The months before and with the one of a day: of 12 months on 2026-05-20, from 2025-06-01. */
export function lastMonths(count: number, today: string): Span {
	return { from: `${monthBefore(today.slice(0, 7), count - 1)}-01`, to: today };
}

/**
 * A span as it is typed. What is no day, or comes before the first, is taken for the span of 12 months; what goes further back
 * than `MOST_MONTHS` is cut.
 */
export function readSpan(from: string | null, to: string | null, today: string): Span {
	const last = to !== null && isDay(to) && to <= today ? to : today;
	const usual = lastMonths(12, last);
	if (from === null || !isDay(from) || from > last) return usual;
	const earliest = `${monthBefore(last.slice(0, 7), MOST_MONTHS - 1)}-01`;
	return { from: from < earliest ? earliest : from, to: last };
}

/** The months that a span touches, in order. */
export function monthsIn({ from, to }: Span): string[] {
	const months: string[] = [];
	for (let month = to.slice(0, 7); month >= from.slice(0, 7); month = monthBefore(month, 1))
		months.push(month);
	return months.reverse();
}

/** The day after. */
export function dayAfter(day: string): string {
	const next = new Date(`${day}T00:00:00Z`);
	next.setUTCDate(next.getUTCDate() + 1);
	return next.toISOString().slice(0, 10);
}

/** The month after. */
export function monthAfter(month: string): string {
	return monthBefore(month, -1);
}

function monthBefore(month: string, count: number): string {
	const [year = 0, number = 1] = month.split('-').map(Number);
	const all = year * 12 + number - 1 - count;
	return `${String(Math.floor(all / 12)).padStart(4, '0')}-${String((all % 12) + 1).padStart(2, '0')}`;
}
