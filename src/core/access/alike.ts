/**
 * Resources that open alike: what decides of them is the same, so that they are computed with once.
 *
 * Example: the twenty lessons of a section that one fence closes are one class for whoever holds the plan that crosses it;
 * a lesson with a release of its own stands alone for holders of that plan, and with the others for everybody else.
 */
import type { Viewer } from './model';
import type { Policy } from './policy';
import type { PlanWay } from './walk';

/** Resources that somebody finds alike at every moment. */
export interface AlikeClass {
	/** One of them, to compute with. */
	id: string;
	resourceIds: string[];
}

/** What is known of one resource: each plan's part, or the whole where more than plans decides. */
interface WayIn {
	plans: ReadonlyMap<string, string> | null;
	whole: string;
}

const known = new WeakMap<Policy, Map<string, WayIn>>();

/** Puts resources together that open alike for whoever holds or held what `viewer` does; uses are not looked at. */
export function alikeFor(policy: Policy, viewer: Viewer, resourceIds: Iterable<string>): AlikeClass[] {
	const { planIds } = plansOf(viewer);
	const classes = new Map<string, AlikeClass>();
	for (const id of resourceIds) {
		const { plans, whole } = wayIn(policy, id);
		// Whoever holds none of its plans finds it shut, like everything of that kind.
		const key = plans ? planIds.map((planId) => plans.get(planId) ?? '-').join('|') : `whole ${whole}`;
		const found = classes.get(key);
		if (found) found.resourceIds.push(id);
		else classes.set(key, { id, resourceIds: [id] });
	}
	return [...classes.values()];
}

function wayIn(policy: Policy, id: string): WayIn {
	let ways = known.get(policy);
	if (!ways) known.set(policy, (ways = new Map()));
	let way = ways.get(id);
	if (!way) {
		const plans = ofPlans(policy, id);
		ways.set(id, (way = { plans, whole: plans ? '' : signature(policy, id, []) }));
	}
	return way;
}

/** The plans somebody holds or held, and a name for the whole of them. */
export function plansOf({ grants }: Pick<Viewer, 'grants'>): { planIds: string[]; key: string } {
	const [only, ...others] = grants;
	if (!only) return { planIds: [], key: '' };
	if (others.length === 0) return { planIds: [only.planId], key: only.planId };
	const planIds = [...new Set(grants.map((grant) => grant.planId))].sort();
	return { planIds, key: planIds.join() };
}

/** Everything about a place that decides, and nothing else: names and turn-aways may change freely. */
export function signature(policy: Policy, id: string, visiting: readonly string[]): string {
	const place = policy.place(id);
	if (!place) return 'none';
	const { state, publishAt, base, passage } = place;
	const ways = passage.ways.map((way) => {
		const { audience, window } = way.crossing;
		const limits = JSON.stringify(way.limits);
		if (audience.kind === 'may-open') {
			const isCircle = visiting.includes(audience.resourceId) || audience.resourceId === id;
			return `(${isCircle ? 'circle' : signature(policy, audience.resourceId, [...visiting, id])})`;
		}
		if (way.plans)
			return [...way.plans.values()]
				.map((plan) => planSignature(policy, plan))
				.sort()
				.join(' ');
		const who = audience.kind === 'named' ? `named ${way.crossing.id}` : JSON.stringify(audience);
		return `${who} ${JSON.stringify(window)} ${limits} ${window ? clockSignature(policy) : ''}`;
	});
	return `${state} ${publishAt} ${passage.reachesBase ? base : ''} ${[...new Set(ways)].sort().join(' ')}`;
}

/** What a plan's holders find on one way. */
function planSignature(policy: Policy, { planId, window, afterLapse, tenureOf, limits }: PlanWay): string {
	const clock = window ? `${JSON.stringify([window, afterLapse, tenureOf])} ${clockSignature(policy)}` : '';
	return `${planId}:${clock}${limits ? JSON.stringify(limits) : ''}`;
}

function clockSignature({ source: { zone, releaseHour, lapseAfterDays } }: Policy): string {
	return `${zone} ${releaseHour} ${lapseAfterDays}`;
}

/** For each plan, what its holders find; `null` where more than plans decides. A gate stands before all of them. */
export function ofPlans(policy: Policy, id: string): Map<string, string> | null {
	const found = new Map<string, string>();
	const place = policy.place(id);
	if (!place) return found;
	const { passage, base, state, publishAt } = place;
	if (passage.reachesBase && base === 'open') return null;
	for (const way of passage.ways) {
		if (!way.plans) return null;
		for (const [planId, plan] of way.plans) {
			const own = `${state} ${publishAt} ${planSignature(policy, plan)}`;
			found.set(planId, [found.get(planId), own].filter(Boolean).sort().join(' & '));
		}
	}
	return found;
}
