/**
 * When a window is open, counted on somebody's clock.
 *
 * The clock starts on a first day; an opening step is taken from it by the calendar of the publisher's zone, at the
 * publisher's hour of release if one is set, and a closing step from the opening. A window that would close before it
 * opens is never open. Example (common practice, no source): "opens in week three, for one month", joined on 1 January,
 * is `[22 January, 22 February)`.
 *
 * After a lapse a plan says how its clock goes on: as if never away; standing still, so that an opening moves later by
 * the length of each lapse that began before it, and what was open never shuts; or anew from the day of coming back.
 */
import { addCalendar, atHour, type CalendarUnit } from '../time/calendar';
import { joined, type Instant, type Interval } from '../time/instant';
import { BEGINNING, between, NEVER, type IntervalSet } from '../time/interval-set';
import type { AfterLapse, Closes, Grant, Opens, Tenure, Window } from './model';

const DAY_MS = 86_400_000;
const KEPT = 200_000;

/** Calendar steps in the publisher's zone, remembered: members who joined at one moment share them. */
export class StepClock {
	private readonly known = new Map<string, Map<Instant, Instant>>();
	private size = 0;

	constructor(
		readonly zone: string,
		readonly releaseHour: number | null
	) {}

	/** `count` units after `from`, at the same time of day. */
	step(from: Instant, count: number, unit: CalendarUnit): Instant {
		if (count === 0) return from;
		return this.remember(`${unit}${count}`, from, () => addCalendar(from, count, unit, this.zone));
	}

	/** An opening step: like `step`, but at the hour of release. */
	opening(from: Instant, count: number, unit: CalendarUnit): Instant {
		const hour = this.releaseHour;
		if (count === 0 || hour === null) return this.step(from, count, unit);
		return this.remember(`@${unit}${count}`, from, () =>
			atHour(addCalendar(from, count, unit, this.zone), hour, this.zone)
		);
	}

	/** The first hour of release at or after `at`; `at` itself where none is set. */
	nextHour(at: Instant): Instant {
		const hour = this.releaseHour;
		if (hour === null) return at;
		return this.remember('hour', at, () => {
			const today = atHour(at, hour, this.zone);
			return today >= at ? today : atHour(addCalendar(at, 1, 'day', this.zone), hour, this.zone);
		});
	}

	private remember(key: string, from: Instant, make: () => Instant): Instant {
		let byStart = this.known.get(key);
		if (!byStart) this.known.set(key, (byStart = new Map()));
		const found = byStart.get(from);
		if (found !== undefined) return found;
		if (++this.size > KEPT) {
			this.known.clear();
			this.size = 1;
			this.known.set(key, (byStart = new Map()));
		}
		const made = make();
		byStart.set(from, made);
		return made;
	}
}

/** A clock that steps are taken from: `null` where only dates make sense (anyone, staff). */
export type Start = Instant | null;

/** `[opens, closes)` on one clock; nothing for a step without a clock, or where it closes before it opens. */
export function windowOn(clock: StepClock, start: Start, window: Window): IntervalSet {
	const opens = openingOn(clock, start, window.opens);
	if (opens === null || (opens === BEGINNING && window.closes.kind === 'after')) return NEVER;
	return between(opens, closingOn(clock, opens, window.closes));
}

/** The opening; `null` for a step without a clock. At once means from the start of the clock. */
export function openingOn(clock: StepClock, start: Start, opens: Opens): Instant | null {
	switch (opens.kind) {
		case 'at-once':
			return start ?? BEGINNING;
		case 'on':
			return opens.at;
		case 'after':
			return start === null ? null : clock.opening(start, opens.count, opens.unit);
	}
}

export function closingOn(clock: StepClock, opening: Instant, closes: Closes): Instant | null {
	switch (closes.kind) {
		case 'never':
			return null;
		case 'on':
			return closes.at;
		case 'after':
			return clock.step(opening, closes.count, closes.unit);
	}
}

/** The moment a grant stops holding; `null` when it does not end by itself. */
export function endOfGrant(grant: Grant): Instant | null {
	const { until, revokedAt } = grant;
	if (revokedAt === null) return until;
	return until === null || revokedAt < until ? revokedAt : until;
}

/** A member's time with a plan or ladder. */
export interface Held {
	firstJoinedAt: Instant;
	/** When it was held; gaps shorter than the least lapse are bridged. */
	runs: Interval[];
}

/**
 * The time held, from the grants of a plan, or of all plans of a ladder; `null` when there never was any.
 * `firstDays`: the days noted as the first, for each plan: one set by hand counts, be it earlier or later than the first
 * grant; any other only where it is earlier.
 */
export function heldOf(
	grants: readonly Grant[],
	firstDays: readonly Tenure[],
	lapseAfterDays: number
): Held | null {
	const runs = joined(
		grants
			.map((grant) => ({ start: grant.from, end: endOfGrant(grant) }))
			// What was revoked before it began was never held.
			.filter(({ start, end }) => end === null || start < end),
		// A gap of exactly the least lapse is one.
		Math.max(0, lapseAfterDays * DAY_MS - 1)
	);
	const [first] = runs;
	if (!first) return null;
	const byHand = firstDays.filter(({ isSetByHand }) => isSetByHand);
	const days = byHand.length > 0 ? byHand : [...firstDays, { firstJoinedAt: first.start }];
	return { firstJoinedAt: Math.min(...days.map(({ firstJoinedAt }) => firstJoinedAt)), runs };
}

/** The openings that an opening step gives, one for each run where the clock begins anew, otherwise one for all. */
export function openingsFor(
	clock: StepClock,
	held: Held,
	opens: Opens,
	afterLapse: AfterLapse
): { run: Interval | null; at: Instant }[] {
	if (opens.kind === 'on') return [{ run: null, at: opens.at }];
	const count = opens.kind === 'after' ? opens.count : 0;
	const unit = opens.kind === 'after' ? opens.unit : 'day';
	if (afterLapse === 'anew') {
		return held.runs.map((run, n) => ({
			run,
			at: clock.opening(n === 0 ? held.firstJoinedAt : run.start, count, unit)
		}));
	}
	const first = clock.opening(held.firstJoinedAt, count, unit);
	if (afterLapse === 'on') return [{ run: null, at: first }];
	// At once has no hour: it is the moment of joining.
	const onTheHour = count === 0 ? (at: Instant) => at : (at: Instant) => clock.nextHour(at);
	return [{ run: null, at: later(first, held.runs, onTheHour) }];
}

/**
 * Moves an opening by every lapse that began before it, to the next moment at which openings are. Lapses that begin after
 * it move nothing, so that what was open never shuts.
 */
function later(opening: Instant, runs: readonly Interval[], onTheHour: (at: Instant) => Instant): Instant {
	let at = opening;
	let moved = opening;
	for (let n = 0; n + 1 < runs.length; n++) {
		const lapsedAt = runs[n]?.end ?? null;
		const backAt = runs[n + 1]?.start ?? null;
		if (lapsedAt === null || backAt === null || lapsedAt >= moved) break;
		at += backAt - lapsedAt;
		moved = onTheHour(at);
	}
	return moved;
}
