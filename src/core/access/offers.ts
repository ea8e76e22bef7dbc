/**
 * Plans that would open a place to somebody who may not open it: worked out when a page asks, so that decisions stay quick.
 *
 * A plan is offered only if buying it now would open the place for this viewer, at once or at a named time. Example: a
 * lesson is open in the first month of the plan Apprentice; whoever was an apprentice last year, on a clock that goes on,
 * is not offered it again. Renewals are taken to go on.
 */
import { beginsAt } from '../billing/plan-access';
import type { Instant } from '../time/instant';
import { between, intersect, without, type IntervalSet } from '../time/interval-set';
import { endOfGrant } from './clock';
import { decide } from './decide/decide';
import { givenTo, signedUp } from './newcomers';
import { NO_CONTEXT, type Context, type Grant, type Member, type Viewer } from './model';
import type { Place, Policy } from './policy';
import { assuming, setsOf } from './timeline';

export interface Offer {
	planId: string;
	/** When it would open; `null`: at once. */
	opensAt: Instant | null;
}

/**
 * Public plans on sale that would open a place, in the policy's order.
 * @param placeId a resource, or the path of a page that belongs to none
 */
export function offersAt(
	policy: Policy,
	viewer: Viewer,
	placeId: string,
	now: Instant,
	context: Context = NO_CONTEXT
): Offer[] {
	const place = policy.place(placeId);
	if (!place || place.state === 'draft' || place.state === 'archived' || context.keptOut !== null) return [];
	// What is not published yet is as if it were not there.
	if (place.state === 'scheduled' && (place.publishAt === null || place.publishAt > now)) return [];
	const plain = plainOffers(policy, place, viewer, now);
	if (plain) return plain;
	const wanted = plansOfWays(policy, placeId, new Set());
	const already = opened(policy, viewer, placeId, now, context);
	const offers: Offer[] = [];
	for (const plan of policy.source.plans) {
		const { id: planId, isPublic, isOnSale } = plan;
		if (!isPublic || !isOnSale || !wanted.has(planId) || holds(viewer, planId, now)) continue;
		if (!sellsTo(policy, viewer, plan, now)) continue;
		const bought = opened(policy, buying(policy, viewer, planId, now), placeId, now, context);
		const [first] = without(bought, already);
		if (first) offers.push({ planId, opensAt: first.start <= now ? null : first.start });
	}
	return offers;
}

/**
 * The short way, for whoever has nothing, where nothing waits and nothing is counted: any plan that a way is for opens it when it
 * begins. `null`: it takes the long way.
 */
function plainOffers(policy: Policy, { passage, base }: Place, viewer: Viewer, now: Instant): Offer[] | null {
	if (viewer.kind !== 'stranger' || hasRedeemed(viewer) || !passage.plain) return null;
	const { anyone, holders } = passage.plain;
	if (anyone || (passage.reachesBase && base === 'open')) return [];
	return policy.source.plans
		.filter((plan) => {
			const n = policy.planIndex.get(plan.id) ?? -1;
			const isOffered = plan.isPublic && plan.isOnSale && (holders[n] ?? -1) >= 0;
			return isOffered && sellsTo(policy, viewer, plan, now);
		})
		.map((plan) => {
			const opensAt = beginsAt(plan, now);
			return { planId: plan.id, opensAt: opensAt > now ? opensAt : null };
		});
}

/**
 * Whether a plan is shown and sold to whoever looks: one that is for those who may open a chosen thing is for nobody else, and
 * for nobody where there is no such thing. How often they have opened it does not count.
 */
export function sellsTo(
	policy: Policy,
	viewer: Viewer,
	{ soldTo }: { soldTo?: string | null },
	now: Instant
): boolean {
	return soldTo == null || decide(policy, viewer, soldTo, now).verdict === 'open';
}

/** Whether codes were redeemed on a stranger's device: it may find more than others do. */
export function hasRedeemed({ redemptions, grants }: Pick<Viewer, 'redemptions' | 'grants'>): boolean {
	return redemptions.length > 0 || grants.length > 0;
}

/**
 * Whether an account alone, without a plan, would open a place to a stranger at some time: then one is offered where they are
 * turned away.
 *
 * @param placeId a resource, or the path of a page that belongs to none
 */
export function takesAccount(
	policy: Policy,
	viewer: Viewer,
	placeId: string,
	now: Instant,
	context: Context = NO_CONTEXT
): boolean {
	const place = policy.place(placeId);
	if (viewer.kind !== 'stranger' || !place || context.keptOut !== null) return false;
	const given = givenTo(policy.source, now);
	const isForAccounts = ({ crossing: { audience }, plans }: (typeof place.passage.ways)[number]) =>
		audience.kind === 'signed-in' ||
		audience.kind === 'may-open' ||
		given.some(({ planId }) => plans?.has(planId));
	if (!place.passage.ways.some(isForAccounts)) return false;
	const signed = signedUp(policy.source, now);
	const member = {
		...signed,
		...{ redemptions: viewer.redemptions, grants: [...signed.grants, ...viewer.grants] }
	};
	const { open } = setsOf(policy, member, placeId, context, []);
	return open.some(({ end }) => end === null || end > now);
}

/**
 * Whether a code would open a place at some time, for whoever has redeemed none: then it can be typed where one is turned away.
 *
 * @param placeId a resource, or the path of a page that belongs to none
 */
export function takesCode(policy: Policy, viewer: Viewer, placeId: string, now: Instant): boolean {
	const place = policy.place(placeId);
	if (!place || place.state === 'draft' || place.state === 'archived') return false;
	return place.passage.ways.some(({ crossing: { audience, window } }) => {
		if (audience.kind !== 'code') return false;
		const isOver = window?.closes.kind === 'on' && window.closes.at <= now;
		return !isOver && !viewer.redemptions.some(({ batchId }) => batchId === audience.batchId);
	});
}

/** When a place would be open from now on by buying a plan now, and is not without it. */
export function gainedByBuying(
	policy: Policy,
	viewer: Viewer,
	planId: string,
	placeId: string,
	now: Instant
): IntervalSet {
	const bought = opened(policy, buying(policy, viewer, planId, now), placeId, now, NO_CONTEXT);
	return without(bought, opened(policy, viewer, placeId, now, NO_CONTEXT));
}

/** Plans that some way to a place is for, those of what it follows included. */
function plansOfWays(policy: Policy, placeId: string, visited: Set<string>): Set<string> {
	const found = new Set<string>();
	visited.add(placeId);
	for (const { plans, crossing } of policy.place(placeId)?.passage.ways ?? []) {
		for (const planId of plans?.keys() ?? []) found.add(planId);
		const { audience } = crossing;
		if (audience.kind === 'may-open' && !visited.has(audience.resourceId))
			for (const planId of plansOfWays(policy, audience.resourceId, visited)) found.add(planId);
	}
	return found;
}

function opened(policy: Policy, viewer: Viewer, placeId: string, now: Instant, context: Context) {
	const { open } = setsOf(policy, assuming(viewer, 'renewals-go-on'), placeId, context, []);
	return intersect(open, between(now, null));
}

/** Whoever holds a plan, now or from a day that is agreed, is not sold it again. What a code gave to a device is no plan bought. */
function holds(viewer: Viewer, planId: string, now: Instant): boolean {
	if (viewer.kind === 'stranger') return false;
	return viewer.grants.some((grant) => {
		const end = endOfGrant(grant);
		return grant.planId === planId && (end === null || (end > now && end > grant.from));
	});
}

const BOUGHT = 'bought-now';

/** The viewer as they would be with a grant from now or its first day on: a stranger has an account then. */
function buying({ source }: Policy, viewer: Viewer, planId: string, now: Instant): Member {
	const plan = source.plans.find(({ id }) => id === planId);
	const grant: Grant = {
		id: BOUGHT,
		planId,
		from: beginsAt(plan ?? {}, now),
		until: null,
		revokedAt: null,
		source: 'subscription',
		renews: true,
		period: null
	};
	return viewer.kind === 'stranger'
		? {
				kind: 'member',
				id: '',
				isStaff: false,
				since: now,
				grants: [...viewer.grants, grant],
				tenures: [],
				redemptions: viewer.redemptions,
				namings: []
			}
		: { ...viewer, grants: [...viewer.grants, grant] };
}
