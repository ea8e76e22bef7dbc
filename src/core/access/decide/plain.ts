/**
 * The short way to a decision, for places where every way is for anyone, the signed in or holders, without windows and
 * limits: almost everywhere. It gives what `passThrough` gives, without writing anything down.
 */
import { laterEnd, type Instant } from '../../time/instant';
import { endOfGrant } from '../clock';
import type { Allowed, Decision } from '../decision';
import type { Grant, Resource, Viewer } from '../model';
import type { Policy } from '../policy';
import type { Passage, PlainWays, Way } from '../walk';

const BASE_OPEN: Decision = { verdict: 'open', until: null, allowedBy: { by: 'base' } };

export function passPlain(
	{ planIndex }: Policy,
	{ resource, passage }: { resource: Resource; passage: Passage },
	{ anyone, signedIn, holders }: PlainWays,
	viewer: Viewer,
	now: Instant
): Decision {
	let best = anyone;
	let isForEver = anyone !== null || (passage.reachesBase && resource.base === 'open');
	let opensAt: Instant | null = null;
	let hasLapsed = false;
	let bestGrant: Grant | null = null;
	let bestOrder = -1;
	let until: Instant | null = null;
	if (signedIn && viewer.kind === 'member') {
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
	if (best) return openBy(best, bestGrant, isForEver ? null : until);
	if (isForEver) return BASE_OPEN;
	if (opensAt !== null) return shutAs(passage, 'opens-later', 'too-early', opensAt);
	// The same for everybody of one standing, so it is made once.
	const { shut } = passage;
	if (hasLapsed) return (shut.lapsed ??= shutAs(passage, 'shut', 'lapsed', null));
	if (viewer.kind === 'stranger') return (shut.stranger ??= shutAs(passage, 'shut', 'stranger', null));
	return (shut.withoutPlan ??= shutAs(passage, 'shut', 'without-plan', null));
}

function shutAs(
	{ turnAway, isListed }: Passage,
	verdict: 'shut' | 'opens-later',
	standing: 'too-early' | 'lapsed' | 'stranger' | 'without-plan',
	at: Instant | null
): Decision {
	const answer = turnAway.cases[standing] ?? turnAway.answer;
	const { teaser } = turnAway;
	return { verdict, standing, until: at, opensAt: at, isHeldInVain: false, answer, teaser, isListed };
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
