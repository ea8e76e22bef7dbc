/**
 * All of one viewer's access to one resource over time, worked out by the algebra of intervals and not by sampling.
 *
 * The verdict at each instant is the one that `decide` gives at it. Views of the future may assume that what renews goes on
 * renewing. Example: joined 1 January, a lesson that opens after 2 weeks, cancelled to 1 March: [.., 1 January) opens
 * later, [1 January, 15 January) opens later, [15 January, 1 March) open, from 1 March shut.
 */
import { earlierEnd, type Instant } from '../time/instant';
import {
	ALWAYS,
	BEGINNING,
	between,
	intersect,
	NEVER,
	union,
	without,
	type IntervalSet
} from '../time/interval-set';
import { endOfGrant } from './clock';
import type { Verdict } from './decision';
import { timesFrom, timesOfGrant, type GrantTimes } from './grant-times';
import { NO_CONTEXT, type Context, type Grant, type Member, type Viewer } from './model';
import type { Policy } from './policy';
import { isForDevices, namedSince, type Passage, type Way } from './walk';

export interface Stretch {
	start: Instant;
	/** Exclusive; `null` when nothing changes any more. */
	end: Instant | null;
	verdict: Verdict;
}

/** What views of the future take for granted of grants that renew. */
export type Assumption = 'renewals-go-on' | 'only-what-is-paid';

/** @param placeId of a resource, or the path of a page that belongs to none */
export function timeline(
	policy: Policy,
	viewer: Viewer,
	placeId: string,
	from: Instant,
	to: Instant | null,
	assume: Assumption,
	context: Context = NO_CONTEXT
): Stretch[] {
	const sets = setsOf(policy, assuming(viewer, assume), placeId, context, []);
	return cut(overlay(sets), from, to);
}

const kept = new WeakMap<Member, Member>();

/** The viewer as the assumption has it: what renews has no end. The same viewer gives the same object. */
export function assuming(viewer: Viewer, assume: Assumption): Viewer {
	if (viewer.kind === 'stranger' || assume === 'only-what-is-paid') return viewer;
	if (!viewer.grants.some((grant) => grant.renews && grant.until !== null)) return viewer;
	const known = kept.get(viewer);
	if (known) return known;
	const grants = viewer.grants.map((grant): Grant => (grant.renews ? { ...grant, until: null } : grant));
	const made = { ...viewer, grants };
	kept.set(viewer, made);
	return made;
}

/** By verdict; they may overlap, and the earlier named wins. */
export interface VerdictSets {
	open: IntervalSet;
	used: IntervalSet;
	later: IntervalSet;
	over: IntervalSet;
}

const SHUT: VerdictSets = { open: NEVER, used: NEVER, later: NEVER, over: NEVER };
const OPEN: VerdictSets = { ...SHUT, open: ALWAYS };

export function setsOf(
	policy: Policy,
	viewer: Viewer,
	placeId: string,
	context: Context,
	visiting: readonly string[]
): VerdictSets {
	const place = visiting.includes(placeId) ? null : policy.place(placeId);
	if (!place) return SHUT;
	if (viewer.kind === 'member' && viewer.isStaff) return OPEN;
	const { state, publishAt } = place;
	if (state === 'draft' || state === 'archived') return SHUT;
	if (state === 'scheduled' && publishAt === null) return SHUT;
	const sets = setsOfPassage(policy, place.passage, place.base, viewer, context, [...visiting, placeId]);
	if (state !== 'scheduled' || publishAt === null) return sets;
	const published = between(publishAt, null);
	return {
		open: intersect(sets.open, published),
		used: intersect(sets.used, published),
		later: intersect(sets.later, published),
		over: intersect(sets.over, published)
	};
}

function setsOfPassage(
	policy: Policy,
	passage: Passage,
	base: 'open' | 'closed',
	viewer: Viewer,
	context: Context,
	visiting: readonly string[]
): VerdictSets {
	if (passage.reachesBase && base === 'open') return OPEN;
	let all = SHUT;
	for (const way of passage.ways) {
		for (const sets of setsOfWay(policy, way, viewer, context, visiting)) {
			if (sets === OPEN) return OPEN;
			all =
				all === SHUT
					? sets
					: {
							open: union(all.open, sets.open),
							used: union(all.used, sets.used),
							later: union(all.later, sets.later),
							over: union(all.over, sets.over)
						};
		}
	}
	return all;
}

function setsOfWay(
	policy: Policy,
	way: Way,
	viewer: Viewer,
	context: Context,
	visiting: readonly string[]
): VerdictSets[] {
	const { audience, window } = way.crossing;
	const from = (start: Instant | null) =>
		start === null && !window ? OPEN : ofTimes(timesFrom(policy.clock, start, window, way.limits, context));
	switch (audience.kind) {
		case 'anyone':
			return [from(null)];
		case 'signed-in':
			return viewer.kind === 'member' ? [from(viewer.since)] : [];
		case 'named': {
			const since = namedSince(way, viewer);
			return since === undefined ? [] : [from(since)];
		}
		case 'code':
			if (viewer.kind === 'stranger' && !isForDevices(way)) return [SHUT];
			return viewer.redemptions.filter((own) => own.batchId === audience.batchId).map((own) => from(own.at));
		case 'may-open':
			return [setsOf(policy, viewer, audience.resourceId, NO_CONTEXT, visiting)];
		case 'holders':
			return viewer.grants.flatMap((grant) => ofGrant(policy, way, viewer, grant, context));
	}
}

function ofGrant(policy: Policy, way: Way, viewer: Viewer, grant: Grant, context: Context): VerdictSets[] {
	const planWay = way.plans?.get(grant.planId);
	const end = endOfGrant(grant);
	if (!planWay || (end !== null && end <= grant.from)) return [];
	if (viewer.kind === 'stranger' && !isForDevices(planWay)) return [];
	if (planWay.window === null && planWay.limits === null) {
		return [
			{ open: [{ start: grant.from, end }], used: NEVER, later: between(BEGINNING, grant.from), over: NEVER }
		];
	}
	const held = policy.heldBy(viewer, planWay.tenureOf);
	if (!held) return [];
	const make = () => timesOfGrant(policy.clock, planWay, grant, held, context);
	return [ofTimes(planWay.limits === null ? policy.rememberTimes(viewer, planWay, grant, make) : make())];
}

/** Before anything that opens, it opens later. */
function ofTimes({ open, used, over, waits }: GrantTimes): VerdictSets {
	const last = open.at(-1)?.start ?? null;
	const before = waits ? Math.max(waits.before, last ?? BEGINNING) : last;
	return { open, used, over, later: before === null ? NEVER : between(BEGINNING, before) };
}

/** Every instant once, under the first verdict that claims it. */
function overlay({ open, used, later, over }: VerdictSets): Stretch[] {
	const usedOnly = without(used, open);
	const laterOnly = without(without(later, open), used);
	const closed = union(open, used, later);
	const overOnly = without(over, closed);
	const shut = without(ALWAYS, union(closed, over));
	const claims: [Verdict, IntervalSet][] = [
		['open', open],
		['used-up', usedOnly],
		['opens-later', laterOnly],
		['over', overOnly],
		['shut', shut]
	];
	return claims
		.flatMap(([verdict, set]) => set.map(({ start, end }) => ({ start, end, verdict })))
		.sort((a, b) => a.start - b.start);
}

function cut(stretches: readonly Stretch[], from: Instant, to: Instant | null): Stretch[] {
	const out: Stretch[] = [];
	for (const { start, end, verdict } of stretches) {
		const first = Math.max(start, from);
		const last = earlierEnd(end, to);
		if (last !== null && last <= first) continue;
		out.push({ start: first, end: last, verdict });
	}
	return out;
}
