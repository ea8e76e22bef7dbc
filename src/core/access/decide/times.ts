/** Whether a way is open now, for whoever it is for: by the grants of its plans, or on a clock that starts once. */
import { earlierEnd, type Instant } from '../../time/instant';
import { isIn, nextChange } from '../../time/interval-set';
import { endOfGrant } from '../clock';
import { timesFrom, timesOfGrant, type GrantTimes } from '../grant-times';
import type { Grant } from '../model';
import { isForDevices, type PlanWay, type Way, type WayLimits } from '../walk';
import { allow, crosserFact, type Ask, type Crosser, type Seen } from './ask';
import { grantFact, type By } from './facts';

/** @param start of the clock; `null` for anyone, who has none */
export function tryTimes(ask: Ask, way: Way, start: Instant | null, by: By, seen: Seen): void {
	const crosser: Crosser = { grant: null, by };
	if (way.crossing.window === null && way.limits === null) {
		if (start === null || start <= ask.now) return allow(ask, way, crosser, null, seen);
	}
	const times = timesFrom(ask.policy.clock, start, way.crossing.window, way.limits, ask.context);
	see(ask, way, times, way.limits, crosser, seen);
}

/** The plain case, a grant without window and limits, comes first, because almost every decision is one. */
export function tryGrants(ask: Ask, way: Way, seen: Seen): void {
	const { policy, viewer, now, context } = ask;
	let isFound = false;
	if (way.plans) {
		for (const grant of viewer.grants) {
			const planWay = way.plans.get(grant.planId);
			if (!planWay) continue;
			const end = endOfGrant(grant);
			if (end !== null && end <= grant.from) continue;
			isFound = true;
			if (viewer.kind === 'stranger' && !isForDevices(planWay)) {
				ask.trace?.push({ code: 'not-signed-in', fenceId: way.fence.id });
				continue;
			}
			if (planWay.window === null && planWay.limits === null) {
				if (grant.from <= now && (end === null || now < end)) allow(ask, way, { grant, planWay }, end, seen);
				else outOfGrant(ask, way, planWay, grant, end, seen);
			} else {
				const held = policy.heldBy(viewer, planWay.tenureOf);
				if (!held) continue;
				const make = () => timesOfGrant(policy.clock, planWay, grant, held, context);
				const times = planWay.limits === null ? policy.rememberTimes(viewer, planWay, grant, make) : make();
				seeGrant(ask, way, { grant, planWay }, end, times, seen);
			}
		}
	}
	if (!isFound && ask.trace) {
		const planIds = [...(way.plans?.keys() ?? [])];
		ask.trace.push({ code: 'no-grant', fenceId: way.fence.id, planIds });
	}
}

function outOfGrant(
	{ now, trace }: Ask,
	way: Way,
	planWay: PlanWay,
	grant: Grant,
	end: Instant | null,
	seen: Seen
): void {
	if (now < grant.from) {
		seen.opensAt = earlierEnd(seen.opensAt, grant.from);
		seen.next = earlierEnd(seen.next, grant.from);
		trace?.push({ code: 'grant-not-begun', at: grant.from, ...grantFact(way, planWay, grant) });
	} else if (end !== null) {
		seen.hasLapsed = true;
		const isRevoked = grant.revokedAt === end;
		trace?.push({ code: 'grant-ended', at: end, isRevoked, ...grantFact(way, planWay, grant) });
	}
}

function seeGrant(
	ask: Ask,
	way: Way,
	crosser: { grant: Grant; planWay: PlanWay },
	end: Instant | null,
	times: GrantTimes,
	seen: Seen
): void {
	const { grant, planWay } = crosser;
	if (end !== null && ask.now >= end) return outOfGrant(ask, way, planWay, grant, end, seen);
	if (end !== null && ask.now < grant.from) seen.next = earlierEnd(seen.next, grant.from);
	if (end !== null) seen.next = earlierEnd(seen.next, end);
	see(ask, way, times, planWay.limits, crosser, seen);
}

function see(
	ask: Ask,
	way: Way,
	times: GrantTimes,
	limits: WayLimits | null,
	crosser: Crosser,
	seen: Seen
): void {
	const { now, trace } = ask;
	for (const { start, end } of times.open) {
		if (start <= now && (end === null || now < end)) return allow(ask, way, crosser, end, seen);
	}
	for (const set of [times.open, times.used, times.over])
		seen.next = earlierEnd(seen.next, nextChange(set, now));
	if (isIn(times.used, now)) {
		seen.isUsedUp = true;
		// What refuses stands there: of two limits that are both reached, the count.
		if (limits?.uses && isIn(times.usedByCount, now))
			trace?.push({ code: 'uses-used-up', limit: limits.uses, ...crosserFact(way, crosser) });
		else
			trace?.push({
				code: 'minutes-used-up',
				minutes: limits?.minutes ?? 0,
				...crosserFact(way, crosser)
			});
		return;
	}
	const opensAt = times.open.find(({ start }) => start > now)?.start ?? null;
	const waitsFor = times.waits && now < times.waits.before ? times.waits.opensAt : null;
	if (opensAt !== null || waitsFor !== null) {
		const at = opensAt ?? waitsFor ?? now;
		seen.opensAt = earlierEnd(seen.opensAt, at);
		trace?.push({ code: 'window-later', at, ...crosserFact(way, crosser) });
		return;
	}
	const over = times.over.find(({ start, end }) => start <= now && (end === null || now < end));
	if (over) {
		seen.isOver = true;
		trace?.push({ code: 'window-over', at: over.start, ...crosserFact(way, crosser) });
	} else {
		if (crosser.grant) seen.isHeldInVain = true;
		trace?.push({ code: 'window-too-late', at: now, ...crosserFact(way, crosser) });
	}
}
