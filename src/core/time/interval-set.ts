/**
 * Sets of instants as sorted, disjoint, half-open intervals, and their algebra.
 *
 * Example: `{[1, 5)}` without `{[2, 3)}` is `{[1, 2), [3, 5)}`. Intervals that touch are joined.
 */
import type { Instant, Interval } from './instant';
import { earlierEnd, joined } from './instant';

export type IntervalSet = readonly Interval[];

export const NEVER: IntervalSet = [];
/** Before every instant that is asked about. */
export const BEGINNING: Instant = -8.64e15;
export const ALWAYS: IntervalSet = [{ start: BEGINNING, end: null }];

/** `[start, end)`, or nothing where the end is not after the start. */
export function between(start: Instant, end: Instant | null): IntervalSet {
	return end !== null && end <= start ? NEVER : [{ start, end }];
}

export function union(...sets: IntervalSet[]): IntervalSet {
	return joined(sets.flat());
}

export function intersect(a: IntervalSet, b: IntervalSet): IntervalSet {
	const out: Interval[] = [];
	let i = 0;
	let j = 0;
	for (let x = a[0], y = b[0]; x && y; x = a[i], y = b[j]) {
		const start = Math.max(x.start, y.start);
		const end = earlierEnd(x.end, y.end);
		if (end === null || start < end) out.push({ start, end });
		if (isEarlier(x.end, y.end)) i++;
		else j++;
	}
	return out;
}

export function without(a: IntervalSet, b: IntervalSet): IntervalSet {
	return intersect(a, complement(b));
}

export function complement(set: IntervalSet): IntervalSet {
	const out: Interval[] = [];
	let start: Instant | null = BEGINNING;
	for (const interval of set) {
		if (start !== null && interval.start > start) out.push({ start, end: interval.start });
		start = interval.end;
	}
	if (start !== null) out.push({ start, end: null });
	return out;
}

export function isIn(set: IntervalSet, at: Instant): boolean {
	return set.some(({ start, end }) => start <= at && (end === null || at < end));
}

/** The first instant after `at` at which membership changes; `null` when it never does again. */
export function nextChange(set: IntervalSet, at: Instant): Instant | null {
	let next: Instant | null = null;
	for (const { start, end } of set) {
		if (start > at) next = earlierEnd(next, start);
		if (end !== null && end > at) next = earlierEnd(next, end);
	}
	return next;
}

function isEarlier(a: Instant | null, b: Instant | null): boolean {
	return a !== null && (b === null || a < b);
}
