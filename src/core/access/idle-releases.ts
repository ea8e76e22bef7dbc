/**
 * Releases of a plan that count nowhere, because nobody comes in by that plan there.
 *
 * Example: a lesson has a release for Apprentice "after 2 weeks", and its fence lets in Journeyman alone: the release is
 * `not-let-in`, until a fence lets Apprentice in. Without a fence the lesson is open to anyone: `open-anyway`.
 */
import type { Resource } from './model';
import type { Place, Policy } from './policy';

/** Why a release counts nowhere; `passed-over`: whatever it is of has nearer ones. */
export type Idle = 'not-let-in' | 'open-anyway' | 'passed-over';

/** By the resource that the release is of. Releases of categories are left out. */
export function idleReleases(policy: Policy, planId: string): Map<string, Idle> {
	const inside = byHome(policy.source.resources);
	const idle = new Map<string, Idle>();
	for (const release of policy.source.releases) {
		if (release.planId !== planId || release.target.kind !== 'resource') continue;
		const pages = within(inside, release.target.id).filter((id) => policy.resources.get(id)?.address != null);
		const places = pages.flatMap((id) => policy.place(id) ?? []);
		if (places.length === 0) continue;
		const letIn = places.filter((place) => !isOpenAnyway(place) && waysOf(place, planId).length > 0);
		const counts = letIn.some((place) => waysOf(place, planId).some((way) => way.releaseId === release.id));
		if (counts) continue;
		idle.set(
			release.target.id,
			letIn.length > 0 ? 'passed-over' : places.every(isOpenAnyway) ? 'open-anyway' : 'not-let-in'
		);
	}
	return idle;
}

/** What has an address of resources, and of all that lives in them: what can be fenced. */
export function pagesIn(policy: Policy, ids: readonly string[]): string[] {
	const inside = byHome(policy.source.resources);
	const all = new Set(ids.flatMap((id) => within(inside, id)));
	return [...all].filter((id) => policy.resources.get(id)?.address != null);
}

function waysOf({ passage }: Place, planId: string) {
	return passage.ways.flatMap(({ plans }) => plans?.get(planId) ?? []);
}

function isOpenAnyway({ passage, base }: Place): boolean {
	if (passage.reachesBase && base === 'open') return true;
	return passage.ways.some(
		({ crossing, limits }) => crossing.audience.kind === 'anyone' && !crossing.window && !limits
	);
}

function byHome(resources: readonly Resource[]): Map<string, string[]> {
	const inside = new Map<string, string[]>();
	for (const { id, homeId } of resources) {
		if (homeId === null) continue;
		const beside = inside.get(homeId);
		if (beside) beside.push(id);
		else inside.set(homeId, [id]);
	}
	return inside;
}

/** Itself, and all that lives in it. */
function within(inside: ReadonlyMap<string, string[]>, id: string): string[] {
	const found = new Set<string>([id]);
	// A set that grows is gone through to its end; what is in it already is not taken twice.
	for (const one of found) for (const inner of inside.get(one) ?? []) found.add(inner);
	return [...found];
}
