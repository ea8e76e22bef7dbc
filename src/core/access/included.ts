/**
 * Whether buying a plan would open nothing that is not open by what somebody holds: then it is included in theirs, and they are
 * warned before they pay twice.
 *
 * Renewals are taken to go on; what is cancelled is not, so that it can be bought again before it is over. Example: Patron opens
 * the whole Library, Workshop one course: who holds Patron reads at Workshop that it is included.
 */
import type { Instant } from '../time/instant';
import { endOfGrant } from './clock';
import type { Resource, Viewer } from './model';
import { gainedByBuying } from './offers';
import { openedByPlan, type Policy } from './policy';
import type { Passage } from './walk';

/** More ways in than that are not looked through: then nothing is said. */
const MOST_PASSAGES = 100;

/** `by`: a plan that opens all of it by itself; `null`: what they hold does so together. */
export interface Included {
	by: string | null;
}

export function includedFor(policy: Policy, viewer: Viewer, planId: string, now: Instant): Included | null {
	// Staff may open everything, and hold nothing by it.
	if (viewer.kind !== 'member' || viewer.isStaff) return null;
	const held = viewer.grants
		.filter((grant) => grant.from <= now && (endOfGrant(grant) ?? Infinity) > now)
		.map((grant) => grant.planId);
	if (held.length === 0 || held.includes(planId) || isAbove(policy, planId, held)) return null;
	const places = onePlaceEach(policy, openedByPlan(policy, planId));
	if (places.length === 0 || places.length > MOST_PASSAGES) return null;
	const isOpen = ([, { id }]: (typeof places)[number]) =>
		gainedByBuying(policy, viewer, planId, id, now).length === 0;
	if (!places.every(isOpen)) return null;
	const opensAll = (id: string) => places.every(([{ ways }]) => ways.some(({ plans }) => plans?.has(id)));
	return { by: held.find(opensAll) ?? null };
}

/** A higher rung of a ladder on which one stands is more than what one has, whatever it opens. */
function isAbove({ source: { plans } }: Policy, planId: string, held: readonly string[]): boolean {
	const plan = plans.find(({ id }) => id === planId);
	if (!plan || plan.ladderId === null) return false;
	return plans.some(
		({ id, ladderId, rung }) => held.includes(id) && ladderId === plan.ladderId && rung < plan.rung
	);
}

/** Places that the same ways lead to, and that stand alike without them, open alike. */
function onePlaceEach(policy: Policy, resources: readonly Resource[]): [Passage, Resource][] {
	const found: [Passage, Resource][] = [];
	const known = { open: new Set<Passage>(), closed: new Set<Passage>() };
	for (const resource of resources) {
		const passage = policy.passage(resource);
		if (known[resource.base].has(passage)) continue;
		known[resource.base].add(passage);
		found.push([passage, resource]);
	}
	return found;
}
