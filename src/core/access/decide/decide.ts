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
import { earlierEnd, type Instant } from '../../time/instant';
import type { Decision, Step } from '../decision';
import { NO_CONTEXT, type Context, type Resource, type Viewer } from '../model';
import type { Policy } from '../policy';
import { isForDevices, namedSince, type Passage, type Way } from '../walk';
import { allow, nothingSeen, type Ask, type Seen } from './ask';
import { met, unmet } from './facts';
import { passPlain } from './plain';
import { denied, keptOut, unseen } from './refusal';
import { tryGrants, tryTimes } from './times';

export function decide(
	policy: Policy,
	viewer: Viewer,
	resourceId: string,
	now: Instant,
	context: Context = NO_CONTEXT
): Decision {
	// Almost every decision: nothing is made for it but its answer.
	const entry = policy.entry(resourceId);
	if (
		entry !== null &&
		entry.passage.plain !== null &&
		entry.resource.state === 'published' &&
		context.keptOut === null &&
		!(viewer.kind === 'member' && viewer.isStaff)
	)
		return passPlain(policy, entry, entry.passage.plain, viewer, now);
	return atResource({ policy, viewer, now, context, trace: null, visiting: NOTHING }, resourceId);
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
	const ask = { policy, viewer, now, context, trace: steps, visiting: NOTHING };
	return { decision: atResource(ask, resourceId), steps };
}

/**
 * The decision for an address: that of the resource that has it, or of the fences that catch it. Addresses of the site
 * that belong to no resource (the front page, a category's list) are open when no fence speaks. Reserved ones are not
 * for this function: they can never be fenced.
 */
export function decideAddress(
	policy: Policy,
	viewer: Viewer,
	normalised: string,
	now: Instant,
	siteId?: string
): Decision {
	const ask = { policy, viewer, now, context: NO_CONTEXT, trace: null, visiting: NOTHING };
	return atAddress(ask, normalised, siteId);
}

/** Why an address is open or closed. */
export function explainAddress(policy: Policy, viewer: Viewer, normalised: string, now: Instant): Explained {
	const steps: Step[] = [];
	const ask = { policy, viewer, now, context: NO_CONTEXT, trace: steps, visiting: NOTHING };
	return { decision: atAddress(ask, normalised), steps };
}

const NOTHING: readonly string[] = [];
const STAFF: Decision = { verdict: 'open', until: null, allowedBy: { by: 'staff' } };

function atAddress(ask: Ask, normalised: string, siteId?: string): Decision {
	const resource = ask.policy.resourceAt(normalised, siteId);
	if (resource) return atResource(ask, resource.id);
	if (ask.viewer.kind === 'member' && ask.viewer.isStaff) return asStaff(ask);
	return passThrough(ask, ask.policy.passageOf(normalised, siteId), 'open');
}

function atResource(ask: Ask, resourceId: string): Decision {
	const { policy, viewer, now, context, trace } = ask;
	const entry = policy.entry(resourceId);
	if (!entry) {
		trace?.push({ code: 'no-such-resource' });
		return unseen(viewer, null);
	}
	const { resource, passage } = entry;
	if (viewer.kind === 'member' && viewer.isStaff) return asStaff(ask);
	if (resource.state !== 'published') {
		const gate = gateOf(resource, now);
		if (gate) {
			trace?.push(gate);
			return unseen(viewer, gate.code === 'not-published-yet' ? gate.at : null);
		}
	}
	if (context.keptOut !== null) {
		trace?.push({ code: 'kept-out', by: context.keptOut });
		return keptOut(passage, viewer);
	}
	if (trace === null && passage.plain) return passPlain(policy, entry, passage.plain, viewer, now);
	return passThrough({ ...ask, visiting: [...ask.visiting, resourceId] }, passage, resource.base);
}

function asStaff({ trace }: Ask): Decision {
	trace?.push({ code: 'staff' });
	return STAFF;
}

function gateOf(resource: Resource, now: Instant) {
	const { state, publishAt } = resource;
	if (state === 'archived') return { code: 'archived' as const };
	// A scheduled resource without a date is never published by itself.
	if (state === 'draft' || publishAt === null) return { code: 'draft' as const };
	return now < publishAt ? { code: 'not-published-yet' as const, at: publishAt } : null;
}

function passThrough(ask: Ask, passage: Passage, base: 'open' | 'closed'): Decision {
	const { trace } = ask;
	const seen = nothingSeen();
	if (trace) for (const fence of passage.off) trace.push({ code: 'fence-off', fenceId: fence.id });
	let fenceId = '';
	for (const way of passage.ways) {
		if (trace && way.fence.id !== fenceId) trace.push(...met(passage, way, fenceId));
		fenceId = way.fence.id;
		tryWay(ask, way, seen);
	}
	if (trace) trace.push(...unmet(passage));
	if (passage.reachesBase) {
		trace?.push({ code: base === 'open' ? 'base-open' : 'base-closed' });
		if (base === 'open') return { verdict: 'open', until: null, allowedBy: seen.allowed ?? { by: 'base' } };
	}
	if (seen.allowed) return { verdict: 'open', until: seen.allowedUntil, allowedBy: seen.allowed };
	return denied(passage, ask.viewer, seen);
}

function tryWay(ask: Ask, way: Way, seen: Seen): void {
	const { viewer, trace } = ask;
	const { audience } = way.crossing;
	const fenceId = way.fence.id;
	switch (audience.kind) {
		case 'holders':
			return tryGrants(ask, way, seen);
		case 'anyone':
			return tryTimes(ask, way, null, { by: 'anyone' }, seen);
		case 'signed-in':
			if (viewer.kind === 'member') return tryTimes(ask, way, viewer.since, { by: 'signed-in' }, seen);
			trace?.push({ code: 'not-signed-in', fenceId });
			return;
		case 'named': {
			const since = namedSince(way, viewer);
			if (since !== undefined) return tryTimes(ask, way, since, { by: 'named' }, seen);
			trace?.push({ code: 'not-named', fenceId });
			return;
		}
		case 'code': {
			if (viewer.kind === 'stranger' && !isForDevices(way)) {
				trace?.push({ code: 'not-signed-in', fenceId });
				return;
			}
			const { batchId } = audience;
			const own = viewer.redemptions.filter((one) => one.batchId === batchId);
			for (const { at } of own) tryTimes(ask, way, at, { by: 'code', batchId }, seen);
			if (own.length === 0) trace?.push({ code: 'no-code', fenceId, batchId });
			return;
		}
		case 'may-open':
			return tryOther(ask, way, audience.resourceId, seen);
	}
}

/** Whoever may open something else: its answer is taken over. */
function tryOther(ask: Ask, way: Way, resourceId: string, seen: Seen): void {
	const isCircle = ask.visiting.includes(resourceId);
	const other = isCircle ? null : atResource({ ...ask, context: NO_CONTEXT, trace: null }, resourceId);
	if (other?.verdict === 'open')
		return allow(ask, way, { grant: null, by: { by: 'may-open', resourceId } }, other.until, seen);
	ask.trace?.push({ code: 'may-not-open', fenceId: way.fence.id, resourceId });
	if (!other) return;
	seen.next = earlierEnd(seen.next, other.until);
	if (other.verdict === 'over') seen.isOver = true;
	if (other.verdict === 'opens-later') seen.opensAt = earlierEnd(seen.opensAt, other.opensAt);
	if (other.standing === 'lapsed') seen.hasLapsed = true;
	if (other.isHeldInVain) seen.isHeldInVain = true;
}
