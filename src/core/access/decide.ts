/**
 * The one function that decides access: may this viewer open this item now?
 *
 * Staff may cross everywhere; drafts, archived items and those not published yet are gates that no crossing passes; then
 * any crossing of the fences on the item lets in whom it names; when no fence replaces, the base speaks last. Unknown
 * means shut. Example: a video (base closed) behind a fence with a crossing for the plan Workshop is open to whoever has
 * a grant for Workshop in force, `[from, until)`, and shut at the exact end.
 *
 * Steps are collected in this order: gates, fences passed over, each fence's crossings (oldest fence first), base.
 */
import { earlierEnd, laterEnd, type Instant } from '../time/instant';
import type { Crossing, Decision, Fence, Grant, Standing, Step, TurnAway, Verdict, Viewer } from './model';
import type { CompiledItem, Policy } from './policy';

const ABSENT: TurnAway = { kind: 'absent' };

export function decide(policy: Policy, viewer: Viewer, itemId: string, now: Instant): Decision {
	const target = policy.items.get(itemId);
	if (!target) return closed('shut', [{ code: 'no-such-item' }], null, ABSENT, 'stranger');
	if (viewer.kind === 'member' && viewer.isStaff)
		return { verdict: 'open', steps: [{ code: 'staff' }], until: null };

	const gate = gateOf(target, now);
	if (gate) {
		const opensAt = gate.code === 'not-published-yet' ? gate.at : null;
		return closed('shut', [gate], opensAt, ABSENT, standingOf(viewer, false, false));
	}
	return walk(target, viewer, now);
}

/** The moment a grant stops holding; `null` when it does not end by itself. */
export function endOfGrant(grant: Grant): Instant | null {
	return earlierEnd(grant.until, grant.revokedAt);
}

function gateOf({ item }: CompiledItem, now: Instant) {
	if (item.state === 'draft') return { code: 'draft' as const };
	if (item.state === 'archived') return { code: 'archived' as const };
	if (item.state === 'scheduled' && (item.publishAt === null || now < item.publishAt)) {
		// A scheduled item without a date is never published by itself.
		return item.publishAt === null
			? { code: 'draft' as const }
			: { code: 'not-published-yet' as const, at: item.publishAt };
	}
	return null;
}

/** What the walk has seen so far. */
interface Seen {
	steps: Step[];
	open: { until: Instant | null } | null;
	opensAt: Instant | null;
	hasLapsed: boolean;
}

function walk(target: CompiledItem, viewer: Viewer, now: Instant): Decision {
	const seen: Seen = { steps: [], open: null, opensAt: null, hasLapsed: false };
	for (const fence of target.passedOver) seen.steps.push({ code: 'fence-off', fenceId: fence.id });
	for (const fence of target.fences) {
		if (fence.crossings.length === 0) seen.steps.push({ code: 'no-crossing', fenceId: fence.id });
		for (const crossing of fence.crossings) tryCrossing(fence, crossing, viewer, now, seen);
	}
	if (!target.isReplaced) {
		seen.steps.push({ code: target.item.base === 'open' ? 'base-open' : 'base-closed' });
		if (target.item.base === 'open') seen.open = { until: null };
	}
	if (seen.open) return { verdict: 'open', steps: seen.steps, until: seen.open.until };
	const verdict = seen.opensAt === null ? 'shut' : 'opens-later';
	const standing = standingOf(viewer, seen.opensAt !== null, seen.hasLapsed);
	return closed(verdict, seen.steps, seen.opensAt, target.turnAway, standing, target.openedBy);
}

function tryCrossing(fence: Fence, crossing: Crossing, viewer: Viewer, now: Instant, seen: Seen): void {
	const at = { fenceId: fence.id, crossingId: crossing.id };
	const audience = crossing.audience;
	if (audience.kind === 'anyone') {
		seen.steps.push({ code: 'crossed-as-anyone', ...at });
		seen.open = { until: null };
		return;
	}
	if (viewer.kind === 'stranger') {
		seen.steps.push({ code: 'not-signed-in', fenceId: fence.id });
		return;
	}
	if (audience.kind === 'signed-in') {
		seen.steps.push({ code: 'crossed-signed-in', ...at });
		seen.open = { until: null };
		return;
	}
	tryGrants(at, audience.planIds, viewer.grants, now, seen);
}

/** With several grants in force the answer holds to the latest of their ends. */
function tryGrants(
	at: { fenceId: string; crossingId: string },
	planIds: readonly string[],
	grants: readonly Grant[],
	now: Instant,
	seen: Seen
): void {
	let found = false;
	for (const grant of grants) {
		if (!planIds.includes(grant.planId)) continue;
		const end = endOfGrant(grant);
		if (end !== null && end <= grant.from) continue;
		found = true;
		const fact = { fenceId: at.fenceId, planId: grant.planId, grantId: grant.id };
		if (now < grant.from) {
			seen.steps.push({ code: 'grant-not-begun', ...fact, at: grant.from });
			seen.opensAt = earlierEnd(seen.opensAt, grant.from);
		} else if (end !== null && end <= now) {
			seen.steps.push({ code: 'grant-ended', ...fact, at: end, revoked: grant.revokedAt === end });
			seen.hasLapsed = true;
		} else {
			seen.steps.push({ code: 'crossed-by-grant', ...fact, crossingId: at.crossingId, until: end });
			seen.open = { until: seen.open ? laterEnd(seen.open.until, end) : end };
		}
	}
	if (!found) seen.steps.push({ code: 'no-grant', fenceId: at.fenceId, planIds: [...planIds] });
}

function standingOf(viewer: Viewer, isEarly: boolean, hasLapsed: boolean): Standing {
	if (isEarly) return 'too-early';
	if (hasLapsed) return 'lapsed';
	return viewer.kind === 'stranger' ? 'stranger' : 'without-plan';
}

function closed(
	verdict: Exclude<Verdict, 'open'>,
	steps: Step[],
	opensAt: Instant | null,
	turnAway: TurnAway,
	standing: Standing,
	openedBy: string[] = []
): Decision {
	return { verdict, steps, until: opensAt, turnAway, standing, openedBy, opensAt };
}
