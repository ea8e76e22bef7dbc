/**
 * The one function that decides access: may this viewer open this now?
 *
 * Staff may cross everywhere; drafts, archived resources and those not published yet are gates that no crossing passes;
 * then any crossing that counts at the place lets in whom it names, while its window is open and its limits are not
 * reached; when no fence replaces, the base speaks last. Unknown means shut. Verdicts by precedence: open, used up, opens
 * later, over, shut. Example: a video (base closed) behind a fence with a crossing for the plan Workshop is open to whoever
 * has a grant for Workshop in force, `[from, until)`, and shut at the exact end.
 *
 * `explain` takes the same steps and writes them down in a fixed order: gates, fences that are off, then each fence that
 * counts with its crossings (narrowest first, oldest first among equals), crossings from further out that hold
 * throughout, fences that the walk did not reach, the base.
 */
import { earlierEnd, laterEnd, type Instant } from '../time/instant';
import { nextChange } from '../time/interval-set';
import { endOfGrant } from './clock';
import type { Allowed, CrossingFact, Decision, Denied, Step, Verdict } from './decision';
import { timesFrom, timesOfGrant, type GrantTimes } from './grant-times';
import {
	NO_CONTEXT,
	type Answer,
	type Context,
	type Grant,
	type Resource,
	type Standing,
	type Teaser,
	type Viewer
} from './model';
import type { Policy } from './policy';
import { isForDevices, type Passage, type PlainWays, type PlanWay, type Way } from './walk';

export function decide(
	policy: Policy,
	viewer: Viewer,
	resourceId: string,
	now: Instant,
	context: Context = NO_CONTEXT
): Decision {
	return atResource(policy, viewer, resourceId, now, context, null, null);
}

export interface Explained {
	decision: Decision;
	steps: Step[];
}

export function explain(
	policy: Policy,
	viewer: Viewer,
	resourceId: string,
	now: Instant,
	context: Context = NO_CONTEXT
): Explained {
	const steps: Step[] = [];
	return { decision: atResource(policy, viewer, resourceId, now, context, steps, null), steps };
}

/**
 * The decision for an address: that of the resource that has it, or of the fences that catch it. Addresses of the site
 * that belong to no resource (the front page, a category's list) are open when no fence speaks. Reserved ones are not
 * for this function: they can never be fenced.
 */
export function decideAddress(policy: Policy, viewer: Viewer, normalised: string, now: Instant): Decision {
	const resource = policy.byAddress.get(normalised);
	if (resource) return decide(policy, viewer, resource.id, now);
	if (viewer.kind === 'member' && viewer.isStaff) return STAFF;
	return passThrough(policy, policy.passageOf(normalised), 'open', viewer, now, NO_CONTEXT, null, null);
}

/** Why an address that belongs to no resource is open or closed. */
export function explainAddress(policy: Policy, viewer: Viewer, normalised: string, now: Instant): Explained {
	const resource = policy.byAddress.get(normalised);
	if (resource) return explain(policy, viewer, resource.id, now);
	if (viewer.kind === 'member' && viewer.isStaff) return { decision: STAFF, steps: [{ code: 'staff' }] };
	const steps: Step[] = [];
	const passage = policy.passageOf(normalised);
	return { decision: passThrough(policy, passage, 'open', viewer, now, NO_CONTEXT, steps, null), steps };
}

const STAFF: Decision = { verdict: 'open', until: null, allowedBy: { by: 'staff' } };
const ABSENT: Answer = { kind: 'absent' };
const NO_TEASER: Teaser = { kind: 'nothing' };

/** Resources that are being decided, where one follows the rules of another: a circle opens nothing. */
type Visiting = readonly string[] | null;

function atResource(
	policy: Policy,
	viewer: Viewer,
	resourceId: string,
	now: Instant,
	context: Context,
	trace: Step[] | null,
	visiting: Visiting
): Decision {
	const entry = policy.entry(resourceId);
	if (!entry) {
		trace?.push({ code: 'no-such-resource' });
		return unseen('shut', null, 'stranger');
	}
	const { resource, passage } = entry;
	if (viewer.kind === 'member' && viewer.isStaff) {
		trace?.push({ code: 'staff' });
		return STAFF;
	}
	if (resource.state !== 'published') {
		const gate = gateOf(resource, now);
		if (gate) {
			trace?.push(gate);
			const at = gate.code === 'not-published-yet' ? gate.at : null;
			return unseen('shut', at, viewer.kind === 'stranger' ? 'stranger' : 'without-plan');
		}
	}
	if (context.keptOut !== null) {
		trace?.push({ code: 'kept-out', by: context.keptOut });
		const standing = viewer.kind === 'stranger' ? 'stranger' : 'without-plan';
		return { ...refusal(passage, 'kept-out', standing, null, null), teaser: NO_TEASER, openedBy: [] };
	}
	if (trace === null && passage.plain)
		return passPlain(policy, passage, passage.plain, resource.base, viewer, now);
	const chain = visiting === null ? [resourceId] : [...visiting, resourceId];
	return passThrough(policy, passage, resource.base, viewer, now, context, trace, chain);
}

function gateOf(resource: Resource, now: Instant) {
	const { state, publishAt } = resource;
	if (state === 'archived') return { code: 'archived' as const };
	// A scheduled resource without a date is never published by itself.
	if (state === 'draft' || publishAt === null) return { code: 'draft' as const };
	return now < publishAt ? { code: 'not-published-yet' as const, at: publishAt } : null;
}

/** What has been seen on the way. */
interface Seen {
	allowed: Allowed | null;
	allowedUntil: Instant | null;
	/** End of the way that is allowed, for the choice between several. */
	until: Instant | null;
	isUsedUp: boolean;
	isOver: boolean;
	hasLapsed: boolean;
	opensAt: Instant | null;
	/** The first moment at which something changes. */
	next: Instant | null;
	trace: Step[] | null;
}

function passThrough(
	policy: Policy,
	passage: Passage,
	base: 'open' | 'closed',
	viewer: Viewer,
	now: Instant,
	context: Context,
	trace: Step[] | null,
	visiting: Visiting
): Decision {
	const seen: Seen = {
		allowed: null,
		allowedUntil: null,
		until: null,
		isUsedUp: false,
		isOver: false,
		hasLapsed: false,
		opensAt: null,
		next: null,
		trace
	};
	if (trace) for (const fence of passage.off) trace.push({ code: 'fence-off', fenceId: fence.id });
	let fenceId = '';
	for (const way of passage.ways) {
		if (trace && way.fence.id !== fenceId) trace.push(...met(passage, way, fenceId));
		fenceId = way.fence.id;
		tryWay(policy, way, viewer, now, context, seen, visiting);
	}
	if (trace) trace.push(...unmet(passage));
	if (passage.reachesBase) {
		trace?.push({ code: base === 'open' ? 'base-open' : 'base-closed' });
		if (base === 'open') return { verdict: 'open', until: null, allowedBy: seen.allowed ?? { by: 'base' } };
	}
	if (seen.allowed) return { verdict: 'open', until: seen.allowedUntil, allowedBy: seen.allowed };
	return denied(passage, viewer, seen);
}

const BASE_OPEN: Decision = { verdict: 'open', until: null, allowedBy: { by: 'base' } };

/** What `passThrough` gives, for ways without windows and limits, without writing anything down. */
function passPlain(
	{ planIndex }: Policy,
	passage: Passage,
	{ anyone, signedIn, holders }: PlainWays,
	base: 'open' | 'closed',
	viewer: Viewer,
	now: Instant
): Decision {
	let best = anyone;
	let isForEver = anyone !== null || (passage.reachesBase && base === 'open');
	let opensAt: Instant | null = null;
	let hasLapsed = false;
	let bestGrant: Grant | null = null;
	let bestOrder = -1;
	let until: Instant | null = null;
	if (viewer.kind === 'member') {
		if (signedIn) {
			if (viewer.since > now) opensAt = viewer.since;
			else {
				isForEver = true;
				best = best === null || isBefore(passage, signedIn, best) ? signedIn : best;
			}
		}
		const { grants } = viewer;
		for (let n = 0; n < grants.length; n++) {
			const grant = grants[n] as Grant;
			const order = holders[planIndex.get(grant.planId) ?? -1] ?? -1;
			if (order < 0) continue;
			const end = endOfGrant(grant);
			if (end !== null && end <= grant.from) continue;
			if (now < grant.from) opensAt = opensAt === null ? grant.from : Math.min(opensAt, grant.from);
			else if (end !== null && end <= now) hasLapsed = true;
			else {
				const way = passage.ways[order] as Way;
				until = bestGrant === null ? end : laterEnd(until, end);
				if (isBetter(passage, way, order, end, best, bestGrant, bestOrder)) {
					best = way;
					bestGrant = grant;
					bestOrder = order;
				}
			}
		}
	}
	if (best) return openBy(best, bestGrant, isForEver ? null : until);
	if (isForEver) return BASE_OPEN;
	if (opensAt !== null) return refusal(passage, 'opens-later', 'too-early', opensAt, opensAt);
	// The same for everybody of one standing, so it is made once.
	const { shut } = passage;
	if (hasLapsed) return (shut.lapsed ??= refusal(passage, 'shut', 'lapsed', null, null));
	if (viewer.kind === 'stranger') return (shut.stranger ??= refusal(passage, 'shut', 'stranger', null, null));
	return (shut.withoutPlan ??= refusal(passage, 'shut', 'without-plan', null, null));
}

/** What ends sooner is used first; of the equal, what stands first. */
function isBetter(
	passage: Passage,
	way: Way,
	order: number,
	end: Instant | null,
	best: Way | null,
	bestGrant: Grant | null,
	bestOrder: number
): boolean {
	if (best === null) return true;
	const bestEnd = bestGrant === null ? null : endOfGrant(bestGrant);
	if (end !== bestEnd) return end !== null && (bestEnd === null || end < bestEnd);
	return bestGrant === null ? isBefore(passage, way, best) : order < bestOrder;
}

function isBefore({ ways }: Passage, a: Way, b: Way): boolean {
	return ways.indexOf(a) < ways.indexOf(b);
}

function openBy(way: Way, grant: Grant | null, until: Instant | null): Decision {
	const allowedBy: Allowed = {
		by: 'crossing',
		fenceId: way.fence.id,
		crossingId: way.crossing.id,
		grantId: grant === null ? null : grant.id,
		isCounted: false
	};
	return { verdict: 'open', until, allowedBy };
}

function denied(passage: Passage, viewer: Viewer, seen: Seen): Decision {
	const verdict = seen.isUsedUp
		? 'used-up'
		: seen.opensAt !== null
			? 'opens-later'
			: seen.isOver
				? 'over'
				: 'shut';
	const standing = standingOf(viewer, verdict, seen.hasLapsed);
	return refusal(passage, verdict, standing, seen.next, seen.opensAt);
}

function refusal(
	{ turnAway, isListed, openedBy }: Passage,
	verdict: Exclude<Verdict, 'open'>,
	standing: Standing,
	until: Instant | null,
	opensAt: Instant | null
): Denied {
	const answer = turnAway.cases[standing] ?? turnAway.answer;
	return { verdict, until, standing, answer, teaser: turnAway.teaser, isListed, openedBy, opensAt };
}

function standingOf(viewer: Viewer, verdict: Exclude<Verdict, 'open'>, hasLapsed: boolean): Standing {
	switch (verdict) {
		case 'used-up':
			return 'used-up';
		case 'opens-later':
			return 'too-early';
		case 'over':
			return 'over';
		default:
			if (hasLapsed) return 'lapsed';
			return viewer.kind === 'stranger' ? 'stranger' : 'without-plan';
	}
}

/** What is behind a gate is as if it were not there. */
function unseen(verdict: 'shut', until: Instant | null, standing: Standing): Decision {
	return {
		verdict,
		until,
		standing,
		answer: ABSENT,
		teaser: { kind: 'nothing' },
		isListed: false,
		openedBy: [],
		opensAt: until
	};
}

function tryWay(
	policy: Policy,
	way: Way,
	viewer: Viewer,
	now: Instant,
	context: Context,
	seen: Seen,
	visiting: Visiting
): void {
	const { audience } = way.crossing;
	switch (audience.kind) {
		case 'holders':
			return tryGrants(policy, way, viewer, now, context, seen);
		case 'anyone':
			return tryTimes(policy, way, null, { by: 'anyone' }, now, context, seen);
		case 'signed-in':
			if (viewer.kind === 'member')
				return tryTimes(policy, way, viewer.since, { by: 'signed-in' }, now, context, seen);
			seen.trace?.push({ code: 'not-signed-in', fenceId: way.fence.id });
			return;
		case 'named': {
			const since = viewer.kind === 'member' ? way.named?.get(viewer.id) : undefined;
			if (since !== undefined) return tryTimes(policy, way, since, { by: 'named' }, now, context, seen);
			seen.trace?.push({ code: 'not-named', fenceId: way.fence.id });
			return;
		}
		case 'code': {
			if (viewer.kind === 'stranger' && !isForDevices(way)) {
				seen.trace?.push({ code: 'not-signed-in', fenceId: way.fence.id });
				return;
			}
			const own = viewer.redemptions.filter(({ batchId }) => batchId === audience.batchId);
			for (const { at } of own)
				tryTimes(policy, way, at, { by: 'code', batchId: audience.batchId }, now, context, seen);
			if (own.length === 0)
				seen.trace?.push({ code: 'no-code', fenceId: way.fence.id, batchId: audience.batchId });
			return;
		}
		case 'may-open':
			return tryOther(policy, way, audience.resourceId, viewer, now, seen, visiting);
	}
}

/** Whoever may open something else: its answer is taken over. */
function tryOther(
	policy: Policy,
	way: Way,
	resourceId: string,
	viewer: Viewer,
	now: Instant,
	seen: Seen,
	visiting: Visiting
): void {
	const isCircle = visiting?.includes(resourceId) ?? false;
	const other = isCircle ? null : atResource(policy, viewer, resourceId, now, NO_CONTEXT, null, visiting);
	if (other?.verdict === 'open') return allow(way, null, other.until, { by: 'may-open', resourceId }, seen);
	seen.trace?.push({ code: 'may-not-open', fenceId: way.fence.id, resourceId });
	if (!other) return;
	seen.next = earlierEnd(seen.next, other.until);
	if (other.verdict === 'used-up') seen.isUsedUp = true;
	if (other.verdict === 'over') seen.isOver = true;
	if (other.verdict === 'opens-later') seen.opensAt = earlierEnd(seen.opensAt, other.opensAt);
	if (other.standing === 'lapsed') seen.hasLapsed = true;
}

type By =
	| { by: 'anyone' | 'signed-in' | 'named' }
	| { by: 'code'; batchId: string }
	| { by: 'may-open'; resourceId: string };

function tryTimes(
	policy: Policy,
	way: Way,
	start: Instant | null,
	by: By,
	now: Instant,
	context: Context,
	seen: Seen
): void {
	if (way.crossing.window === null && way.limits === null) {
		if (start === null || start <= now) return allow(way, null, null, by, seen);
	}
	const times = timesFrom(policy.clock, start, way.crossing.window, way.limits, context);
	see(way, times, null, way.limits, factOf(way, by), now, seen);
}

/** Inlined for the plain case, a grant without window and limits, because almost every decision is one. */
function tryGrants(
	policy: Policy,
	way: Way,
	viewer: Viewer,
	now: Instant,
	context: Context,
	seen: Seen
): void {
	let isFound = false;
	if (viewer.kind === 'member' && way.plans) {
		for (const grant of viewer.grants) {
			const planWay = way.plans.get(grant.planId);
			if (!planWay) continue;
			const end = endOfGrant(grant);
			if (end !== null && end <= grant.from) continue;
			isFound = true;
			if (planWay.window === null && planWay.limits === null) {
				if (grant.from <= now && (end === null || now < end)) allow(way, grant, end, null, seen, planWay);
				else outOfGrant(way, planWay, grant, end, now, seen);
			} else {
				const held = policy.heldBy(viewer, planWay.tenureOf);
				if (!held) continue;
				const make = () => timesOfGrant(policy.clock, planWay, grant, held, context);
				const times = planWay.limits === null ? policy.rememberTimes(viewer, planWay, grant, make) : make();
				seeGrant(way, planWay, grant, end, times, now, seen);
			}
		}
	}
	if (!isFound && seen.trace) {
		const planIds = [...(way.plans?.keys() ?? [])];
		seen.trace.push({ code: 'no-grant', fenceId: way.fence.id, planIds });
	}
}

function outOfGrant(
	way: Way,
	planWay: PlanWay,
	grant: Grant,
	end: Instant | null,
	now: Instant,
	seen: Seen
): void {
	if (now < grant.from) {
		seen.opensAt = earlierEnd(seen.opensAt, grant.from);
		seen.next = earlierEnd(seen.next, grant.from);
		seen.trace?.push({ code: 'grant-not-begun', at: grant.from, ...grantFact(way, planWay, grant) });
	} else if (end !== null) {
		seen.hasLapsed = true;
		const isRevoked = grant.revokedAt === end;
		seen.trace?.push({ code: 'grant-ended', at: end, isRevoked, ...grantFact(way, planWay, grant) });
	}
}

function seeGrant(
	way: Way,
	planWay: PlanWay,
	grant: Grant,
	end: Instant | null,
	times: GrantTimes,
	now: Instant,
	seen: Seen
): void {
	if (end !== null && now >= end) return outOfGrant(way, planWay, grant, end, now, seen);
	if (end !== null && now < grant.from) seen.next = earlierEnd(seen.next, grant.from);
	if (end !== null) seen.next = earlierEnd(seen.next, end);
	see(way, times, grant, planWay.limits, grantFact(way, planWay, grant), now, seen, planWay);
}

function see(
	way: Way,
	times: GrantTimes,
	grant: Grant | null,
	limits: Way['limits'],
	fact: CrossingFact,
	now: Instant,
	seen: Seen,
	planWay: PlanWay | null = null
): void {
	for (const { start, end } of times.open) {
		if (start <= now && (end === null || now < end)) {
			allow(way, grant, end, grant ? null : (fact as By), seen, planWay);
			return;
		}
	}
	for (const set of [times.open, times.used, times.over])
		seen.next = earlierEnd(seen.next, nextChange(set, now));
	const used = times.used.find(({ start, end }) => start <= now && (end === null || now < end));
	if (used) {
		seen.isUsedUp = true;
		if (limits?.uses) seen.trace?.push({ code: 'uses-used-up', limit: limits.uses, ...fact });
		else seen.trace?.push({ code: 'minutes-used-up', minutes: limits?.minutes ?? 0, ...fact });
		return;
	}
	const opensAt = times.open.find(({ start }) => start > now)?.start ?? null;
	const waitsFor = times.waits && now < times.waits.before ? times.waits.opensAt : null;
	if (opensAt !== null || waitsFor !== null) {
		const at = opensAt ?? waitsFor ?? now;
		seen.opensAt = earlierEnd(seen.opensAt, at);
		seen.trace?.push({ code: 'window-later', at, ...fact });
		return;
	}
	const over = times.over.find(({ start, end }) => start <= now && (end === null || now < end));
	if (over) {
		seen.isOver = true;
		seen.trace?.push({ code: 'window-over', at: over.start, ...fact });
	} else seen.trace?.push({ code: 'window-too-late', at: now, ...fact });
}

/** With several ways the answer holds to the latest of their ends; uses are taken where there is no limit first. */
function allow(
	way: Way,
	grant: Grant | null,
	until: Instant | null,
	by: By | null,
	seen: Seen,
	planWay: PlanWay | null = null
): void {
	const isCounted = (planWay?.limits ?? (grant ? null : way.limits)) !== null;
	const known = seen.allowed;
	seen.allowedUntil = known ? laterEnd(seen.allowedUntil, until) : until;
	const isBetter =
		known?.by !== 'crossing' ||
		(known.isCounted && !isCounted) ||
		(known.isCounted === isCounted && until !== null && (seen.until === null || until < seen.until));
	if (isBetter) {
		const { id: crossingId } = way.crossing;
		seen.allowed = {
			by: 'crossing',
			fenceId: way.fence.id,
			crossingId,
			grantId: grant?.id ?? null,
			isCounted
		};
		seen.until = until;
	}
	if (seen.trace) {
		const fact = grant && planWay ? grantFact(way, planWay, grant) : factOf(way, by ?? { by: 'anyone' });
		seen.trace.push({ code: 'crossed', ...fact, until });
	}
}

function factOf(way: Way, by: By): CrossingFact {
	return { fenceId: way.fence.id, crossingId: way.crossing.id, isThroughout: way.isThroughout, ...by };
}

function grantFact(way: Way, planWay: PlanWay, grant: Grant): CrossingFact {
	const { id: crossingId } = way.crossing;
	const { planId, releaseId } = planWay;
	const { fence, isThroughout } = way;
	return { fenceId: fence.id, crossingId, isThroughout, by: 'grant', planId, grantId: grant.id, releaseId };
}

const MET = { adds: 'fence-adds', replaces: 'fence-replaces', seals: 'fence-seals' } as const;

/** The fences up to the one that the way belongs to, each with what it does. */
function met(passage: Passage, way: Way, lastId: string): Step[] {
	if (way.isThroughout) return [];
	const from = passage.met.findIndex(({ id }) => id === lastId) + 1;
	const to = passage.met.findIndex(({ id }) => id === way.fence.id) + 1;
	return passage.met
		.slice(from, to)
		.flatMap(({ id, mode, crossings }): Step[] => [
			{ code: MET[mode], fenceId: id },
			...(crossings.length === 0 ? [{ code: 'no-crossing' as const, fenceId: id }] : [])
		]);
}

/** Fences after the last crossing, and those that were not reached. */
function unmet(passage: Passage): Step[] {
	const own = passage.ways.findLast((way) => !way.isThroughout);
	const from = own ? passage.met.findIndex(({ id }) => id === own.fence.id) + 1 : 0;
	const last = passage.met.slice(from).flatMap(({ id, mode }): Step[] => [
		{ code: MET[mode], fenceId: id },
		{ code: 'no-crossing', fenceId: id }
	]);
	const { beyond } = passage;
	if (!beyond) return last;
	const isSealed = beyond.endedBy.mode === 'seals';
	return [
		...last,
		...beyond.fences.map(({ id }): Step => ({
			code: 'fence-beyond',
			fenceId: id,
			endedBy: beyond.endedBy.id,
			isSealed
		}))
	];
}
