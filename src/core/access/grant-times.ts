/**
 * When one way in is open, used up or over, for one grant or one start of a clock.
 *
 * What is held, `[from, until)`, meets the window of the way; what is left after the limits is open. Example: held from 1
 * March without an end, opens after 2 weeks, 3 uses a month, the third one on 20 March: open [15 March, 20 March), used up
 * [20 March, 1 April), open from 1 April.
 */
import { earlierEnd, type Instant, type Interval } from '../time/instant';
import { ALWAYS, between, intersect, NEVER, union, without, type IntervalSet } from '../time/interval-set';
import { closingOn, endOfGrant, openingsFor, windowOn, type Held, type StepClock } from './clock';
import type { Context, Grant, Steps, Use, UseGift, Window } from './model';
import type { PlanWay, WayLimits } from './walk';

const MINUTE_MS = 60_000;
const HOUR_MS = 3_600_000;

export interface GrantTimes {
	open: IntervalSet;
	used: IntervalSet;
	/** The part of `used` in which the count of uses is reached; in the rest the minutes alone are over. */
	usedByCount: IntervalSet;
	over: IntervalSet;
	/** It opens at `opensAt`, after what is held has run out; whoever renews waits for it until then. */
	waits: { before: Instant; opensAt: Instant } | null;
}

/** What limits look at. */
type Counted = Pick<Context, 'uses' | 'gifts'>;

const NOTHING: GrantTimes = { open: NEVER, used: NEVER, usedByCount: NEVER, over: NEVER, waits: null };

/** For a grant of one of the way's plans. */
export function timesOfGrant(
	clock: StepClock,
	way: PlanWay,
	grant: Grant,
	held: Held,
	counted: Counted
): GrantTimes {
	const end = endOfGrant(grant);
	if (end !== null && end <= grant.from) return NOTHING;
	const interval = { start: grant.from, end };
	const { window } = way;
	let allowed = ALWAYS;
	let over = NEVER;
	let waits: GrantTimes['waits'] = null;
	if (window) {
		allowed = NEVER;
		for (const { run, at } of openingsFor(clock, held, window.opens, way.afterLapse)) {
			const during = run === null ? ALWAYS : between(run.start, run.end);
			const closes = closingOn(clock, at, window.closes);
			allowed = union(allowed, intersect(during, between(at, closes)));
			if (closes !== null) over = union(over, intersect(during, between(Math.max(at, closes), null)));
			const isAfter = end !== null && at >= end && (closes === null || closes > at);
			if (isAfter && grant.renews && (run === null || run.end === end)) waits = { before: end, opensAt: at };
		}
	}
	return limited(clock, { interval, allowed, over, waits }, way.limits, counted, grant.id, grant.period);
}

/** For whoever is named, signed in or has a code: a clock that starts once. `start`: `null` for anyone. */
export function timesFrom(
	clock: StepClock,
	start: Instant | null,
	window: Window | null,
	limits: WayLimits | null,
	counted: Counted
): GrantTimes {
	const interval = { start: start ?? ALWAYS[0]!.start, end: null };
	const allowed = window ? windowOn(clock, start, window) : ALWAYS;
	const closesAt = window ? (allowed.at(-1)?.end ?? null) : null;
	const over = closesAt === null ? NEVER : between(closesAt, null);
	return limited(
		clock,
		{ interval, allowed, over, waits: null },
		start === null ? null : limits,
		counted,
		null,
		null
	);
}

interface Unlimited {
	/** What is held. */
	interval: Interval;
	/** When the window is open. */
	allowed: IntervalSet;
	over: IntervalSet;
	waits: GrantTimes['waits'];
}

function limited(
	clock: StepClock,
	{ interval, allowed, over, waits }: Unlimited,
	limits: WayLimits | null,
	{ uses, gifts }: Counted,
	grantId: string | null,
	period: Steps | null
): GrantTimes {
	const held = [interval];
	let open = intersect(held, allowed);
	let closed = intersect(held, over);
	if (!limits) return { open, used: NEVER, usedByCount: NEVER, over: closed, waits };
	if (limits.hours !== null) {
		const until = interval.start + limits.hours * HOUR_MS;
		open = intersect(open, between(interval.start, until));
		closed = union(closed, intersect(held, between(until, null)));
	}
	const own = uses.filter((use) => use.grantId === grantId && use.at >= interval.start);
	const byCount = intersect(open, countReached(clock, interval, limits, own, gifts, period));
	const used = union(byCount, intersect(open, minutesOver(limits, own)));
	return { open: without(open, used), used, usedByCount: byCount, over: closed, waits };
}

function minutesOver({ minutes }: WayLimits, [first]: readonly Use[]): IntervalSet {
	return first && minutes !== null ? between(first.at + minutes * MINUTE_MS, null) : NEVER;
}

function countReached(
	clock: StepClock,
	interval: Interval,
	{ uses }: WayLimits,
	own: readonly Use[],
	gifts: readonly UseGift[],
	period: Steps | null
): IntervalSet {
	if (!uses) return NEVER;
	const { count, per } = uses;
	const scopes = per === 'period' && period ? periodsWith(clock, interval, period, own) : [interval];
	let reached: IntervalSet = NEVER;
	for (const scope of scopes) {
		const given = gifts.reduce((sum, gift) => (isWithin(gift.at, scope) ? sum + gift.count : sum), 0);
		const last = own.filter((use) => isWithin(use.at, scope))[count + given - 1];
		if (last) reached = union(reached, between(Math.max(last.at, last.goesOnUntil), scope.end));
	}
	return reached;
}

/** The paid periods in which there are uses. */
function periodsWith(clock: StepClock, held: Interval, period: Steps, own: readonly Use[]): Interval[] {
	const last = own.at(-1)?.at ?? held.start;
	const periods: Interval[] = [];
	for (let n = 0; ; n++) {
		const start = clock.step(held.start, n * period.count, period.unit);
		if (start > last || period.count < 1) return periods;
		periods.push({
			start,
			end: earlierEnd(clock.step(held.start, (n + 1) * period.count, period.unit), held.end)
		});
	}
}

function isWithin(at: Instant, { start, end }: Interval): boolean {
	return at >= start && (end === null || at < end);
}
