/**
 * What looks wrong in a policy: things that are allowed, and that practitioners did not mean.
 *
 * Every resource is looked at, so this is for the Desk and not for requests. Example: a fence on a category that nothing
 * is in is reported as catching nothing.
 */
import { anchoring } from './pattern';
import { decide } from './decide/decide';
import { isCollection, STRANGER, type Fence, type Resource } from './model';
import { openedByPlan, type Policy } from './policy';
import { RANK } from './selector';

export type Finding =
	| { code: 'catches-nothing' | 'is-off' | 'pattern-unanchored'; fenceId: string }
	/** Everything it catches is decided by narrower fences. */
	| { code: 'always-beaten'; fenceId: string; byIds: string[] }
	| { code: 'pattern-catches-many'; fenceId: string; count: number }
	| { code: 'path-other-case'; fenceId: string; path: string; meant: string }
	| { code: 'tags-join' | 'category-meets-tag'; fenceIds: string[]; resourceIds: string[] }
	| { code: 'follows-in-a-circle'; fenceId: string; resourceId: string }
	| { code: 'open-to-anyone'; resourceIds: string[] }
	/** @param drafts that it opens once they are published */
	| { code: 'plan-opens-nothing'; planId: string; drafts: number }
	| { code: 'rung-opens-less'; planId: string; lowerPlanId: string; resourceIds: string[] };

/** A pattern that catches more than this is probably wider than meant. */
export const MANY = 50;

/** How many resources each fence catches, and what looks wrong. */
export interface Inspection {
	caught: ReadonlyMap<string, readonly string[]>;
	findings: Finding[];
}

export function inspect(policy: Policy, now: number): Inspection {
	const caught = new Map<string, string[]>(policy.source.fences.map(({ id }) => [id, []]));
	const beatenBy = new Map<string, Set<string>>();
	const counts = new Set<string>();
	const joins = new Map<
		string,
		{ code: 'tags-join' | 'category-meets-tag'; fenceIds: string[]; resourceIds: string[] }
	>();
	for (const resource of policy.resources.values()) {
		const own = policy.caughtBy(resource);
		for (const { fence } of own) caught.get(fence.id)?.push(resource.id);
		const passage = policy.passage(resource);
		for (const { id } of passage.met) counts.add(id);
		for (const { fence, isThroughout } of passage.ways) if (isThroughout) counts.add(fence.id);
		for (const { fence, endedBy } of passage.beyond)
			beatenBy.set(fence.id, (beatenBy.get(fence.id) ?? new Set()).add(endedBy.id));
		noteJoins(own, resource, joins);
	}
	const findings: Finding[] = policy.source.fences.flatMap((fence) => [
		...ofFence(policy, fence, caught.get(fence.id) ?? []),
		...(fence.isOn && beatenBy.has(fence.id) && !counts.has(fence.id)
			? [{ code: 'always-beaten' as const, fenceId: fence.id, byIds: [...(beatenBy.get(fence.id) ?? [])] }]
			: [])
	]);
	return {
		caught,
		findings: [...findings, ...joins.values(), ...ofResources(policy, now), ...ofPlans(policy)]
	};
}

function ofFence(policy: Policy, fence: Fence, caught: readonly string[]): Finding[] {
	const found: Finding[] = [];
	const { id: fenceId, selector } = fence;
	if (!fence.isOn) found.push({ code: 'is-off', fenceId });
	const isFrontPage = selector.kind === 'path' && selector.path === '/';
	if (caught.length === 0 && !isFrontPage) found.push({ code: 'catches-nothing', fenceId });
	if (selector.kind === 'pattern') {
		const { start, end } = anchoring(selector.pattern);
		if (!start || !end) found.push({ code: 'pattern-unanchored', fenceId });
		if (caught.length > MANY) found.push({ code: 'pattern-catches-many', fenceId, count: caught.length });
	}
	if ((selector.kind === 'path' || selector.kind === 'below') && caught.length === 0) {
		const meant = otherCase(policy, selector.path);
		if (meant) found.push({ code: 'path-other-case', fenceId, path: selector.path, meant });
	}
	for (const { audience } of fence.crossings) {
		if (audience.kind === 'may-open' && followsItself(policy, audience.resourceId, caught))
			found.push({ code: 'follows-in-a-circle', fenceId, resourceId: audience.resourceId });
	}
	return found;
}

/** An address that differs from the path by letter case only. */
export function otherCase(policy: Policy, path: string): string | null {
	const wanted = path.toLowerCase();
	for (const address of policy.byAddress.keys())
		if (
			address !== path &&
			(address.toLowerCase() === wanted || address.toLowerCase().startsWith(`${wanted}/`))
		)
			return address.slice(0, path.length);
	return null;
}

/** Whether what `from` follows leads back to one of `targets`. */
export function followsItself(policy: Policy, from: string, targets: readonly string[]): boolean {
	const wanted = new Set(targets);
	const seen = new Set<string>();
	const queue = [from];
	for (let id = queue.pop(); id !== undefined; id = queue.pop()) {
		if (wanted.has(id)) return true;
		const resource = policy.resources.get(id);
		if (!resource || seen.has(id)) continue;
		seen.add(id);
		for (const { crossing } of policy.passage(resource).ways)
			if (crossing.audience.kind === 'may-open') queue.push(crossing.audience.resourceId);
	}
	return false;
}

function noteJoins(
	own: ReturnType<Policy['caughtBy']>,
	resource: Resource,
	joins: Map<string, { code: 'tags-join' | 'category-meets-tag'; fenceIds: string[]; resourceIds: string[] }>
): void {
	const on = own.filter(({ fence }) => fence.isOn);
	const tags = on.filter(({ rank }) => rank === RANK.tag).map(({ fence }) => fence.id);
	const categories = on.filter(({ rank }) => rank === RANK.category).map(({ fence }) => fence.id);
	if (tags.length === 0 || tags.length + categories.length < 2) return;
	const code = categories.length > 0 ? 'category-meets-tag' : 'tags-join';
	const fenceIds = [...categories, ...tags];
	const known = joins.get(fenceIds.join());
	if (known) known.resourceIds.push(resource.id);
	else joins.set(fenceIds.join(), { code, fenceIds, resourceIds: [resource.id] });
}

/** Pages begin open and are meant to; of everything else one should know. */
function ofResources(policy: Policy, now: number): Finding[] {
	const open = [...policy.resources.values()].filter(
		({ id, kind, address }) =>
			address !== null &&
			kind !== 'page' &&
			!isCollection(kind) &&
			decide(policy, STRANGER, id, now).verdict === 'open'
	);
	return open.length > 0 ? [{ code: 'open-to-anyone', resourceIds: open.map(({ id }) => id) }] : [];
}

function ofPlans(policy: Policy): Finding[] {
	const opens = new Map(policy.source.plans.map(({ id }) => [id, openedByPlan(policy, id).map((r) => r.id)]));
	const found: Finding[] = [];
	for (const plan of policy.source.plans) {
		const own = opens.get(plan.id) ?? [];
		if (own.length === 0) {
			const drafts = openedByPlan(policy, plan.id, 'drafts').length;
			found.push({ code: 'plan-opens-nothing', planId: plan.id, drafts });
		}
		for (const lower of policy.source.plans) {
			if (plan.ladderId === null || lower.ladderId !== plan.ladderId || lower.rung >= plan.rung) continue;
			const resourceIds = (opens.get(lower.id) ?? []).filter((id) => !own.includes(id));
			if (resourceIds.length > 0)
				found.push({ code: 'rung-opens-less', planId: plan.id, lowerPlanId: lower.id, resourceIds });
		}
	}
	return found;
}
