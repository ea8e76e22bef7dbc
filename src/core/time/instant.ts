/**
 * Instants and intervals.
 *
 * An instant is a number of milliseconds since 1970-01-01T00:00Z; an interval is half open, `[start, end)`, and an end
 * of `null` means that it does not end. Example: a grant `[1 March, 1 April)` holds up to but not at 1 April 00:00.
 */

/** Milliseconds since the Unix epoch, UTC. */
export type Instant = number;

export interface Interval {
	start: Instant;
	/** Exclusive; `null` for an open end. */
	end: Instant | null;
}

export function contains(interval: Interval, at: Instant): boolean {
	return interval.start <= at && (interval.end === null || at < interval.end);
}

/** The earlier of two ends, where `null` is later than every instant. */
export function earlierEnd(a: Instant | null, b: Instant | null): Instant | null {
	if (a === null) return b;
	if (b === null) return a;
	return Math.min(a, b);
}

/** The later of two ends, where `null` is later than every instant. */
export function laterEnd(a: Instant | null, b: Instant | null): Instant | null {
	if (a === null || b === null) return null;
	return Math.max(a, b);
}

/**
 * Intervals sorted by start, those that touch or overlap joined into one.
 * `maxGapMs`: gaps up to this length are bridged as well.
 */
export function joined(intervals: readonly Interval[], maxGapMs = 0): Interval[] {
	const sorted = intervals.filter((i) => i.end === null || i.end > i.start).sort((a, b) => a.start - b.start);
	const out: Interval[] = [];
	for (const next of sorted) {
		const last = out.at(-1);
		if (last && (last.end === null || next.start <= last.end + maxGapMs))
			last.end = laterEnd(last.end, next.end);
		else out.push({ ...next });
	}
	return out;
}
