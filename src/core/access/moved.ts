/**
 * Whether a yes still holds: whether anything that a rehearsal looked at has moved since.
 *
 * A rehearsal looks at the resources that its change files anew, and on the walk of each at its homes, the fences that
 * catch it and the releases that count for it. What else happened meanwhile, a file that came in or a fence elsewhere, does
 * not matter. Example: a yes to closing one course holds although a film was uploaded; it does not when somebody changed
 * that course's fence.
 */
import { drained, each } from '../pieces';
import { keyOf, type Change, type Delta } from './delta';
import type { Fence, Release, Resource } from './model';
import { namingsIn } from './namings';
import type { Policy } from './policy';
import { FenceIndex } from './selector';

export interface LookedAt {
	/** Keys of entities, as `keyOf` writes them. */
	keys: ReadonlySet<string>;
	/** Resources that the change files anew. */
	resourceIds: ReadonlySet<string>;
	/** Everything: rules of the site, or a plan, changed. */
	isAll: boolean;
}

/** @param before the policy that was rehearsed against; @param after with the change */
export function lookedAt(before: Policy, after: Policy, delta: Delta): LookedAt {
	return drained(lookingAt(before, after, delta));
}

/** So many resources are looked at without a pause. */
const AT_ONCE = 500;

/** The same in pieces. */
export function* lookingAt(before: Policy, after: Policy, delta: Delta): Generator<void, LookedAt> {
	const isAll = delta.some(({ kind }) => kind === 'site' || kind === 'plan');
	const resourceIds = isAll
		? new Set([...before.resources.keys(), ...after.resources.keys()])
		: new Set([...(yield* filedAnew(before, delta)), ...(yield* filedAnew(after, delta))]);
	const keys = new Set(delta.map(keyOf));
	for (const policy of [before, after]) {
		followers(policy, resourceIds);
		const releases = new Map<string, Release[]>();
		for (const release of policy.source.releases)
			releases.set(release.target.id, [...(releases.get(release.target.id) ?? []), release]);
		yield* each(resourceIds, AT_ONCE, (id) => walk({ policy, releases, keys, visited: new Set() }, id));
	}
	return { keys, resourceIds, isAll };
}

/** What follows the rules of something that is filed anew is filed anew with it. */
function followers(policy: Policy, resourceIds: Set<string>): void {
	const following = policy.source.fences.filter(({ crossings }) =>
		crossings.some(({ audience }) => audience.kind === 'may-open')
	);
	if (following.length === 0) return;
	for (let size = -1; size !== resourceIds.size;) {
		size = resourceIds.size;
		const own = following.filter(({ crossings }) =>
			crossings.some(({ audience }) => audience.kind === 'may-open' && resourceIds.has(audience.resourceId))
		);
		const index = FenceIndex.of(own);
		for (const resource of policy.resources.values())
			if (catches(index, policy, resource)) resourceIds.add(resource.id);
	}
}

interface Walking {
	policy: Policy;
	/** By the id of what they are for. */
	releases: ReadonlyMap<string, Release[]>;
	keys: Set<string>;
	visited: Set<string>;
}

/** Keys of everything on the walk of a resource, and on the walks of what it follows. */
function walk(walking: Walking, id: string): void {
	const { policy, releases, keys, visited } = walking;
	const resource = policy.resources.get(id);
	if (!resource || visited.has(id)) return;
	visited.add(id);
	const homes = policy.homesOf(resource);
	for (const on of [id, ...homes]) keys.add(`resource:${on}`);
	for (const { fence } of policy.caughtBy(resource)) {
		keys.add(`fence:${fence.id}`);
		for (const { audience } of fence.crossings) {
			if (audience.kind === 'holders') for (const planId of audience.planIds) keys.add(`plan:${planId}`);
			if (audience.kind === 'may-open') walk(walking, audience.resourceId);
		}
	}
	for (const target of [id, ...homes, resource.categoryId ?? ''])
		for (const release of releases.get(target) ?? [])
			if (isFor(release, resource, homes)) keys.add(`release:${release.id}`);
}

/** What happened since that the rehearsal would have looked at. @param now the policy as it is by now, without the change */
export function hasMoved(looked: LookedAt, since: Delta, now: Policy): boolean {
	return since.some((change) => matters(looked, change, now));
}

function matters({ keys, resourceIds, isAll }: LookedAt, change: Change, now: Policy): boolean {
	if (keys.has(keyOf(change)) || change.kind === 'site') return true;
	switch (change.kind) {
		case 'resource':
			// What nobody sees yet has no access that could move.
			return isAll && [change.before, change.after].some((one) => one !== null && one.state !== 'draft');
		case 'fence':
			return [change.before, change.after].some(
				(fence) => fence !== null && catchesAny(fence, resourceIds, now)
			);
		case 'release':
			return [change.before, change.after].some((release) =>
				[...resourceIds].some((id) => {
					const resource = now.resources.get(id);
					return resource && release && isFor(release, resource, now.homesOf(resource));
				})
			);
		case 'plan':
			return isAll;
		case 'naming':
			// What members have is theirs to change at any time.
			return false;
	}
}

/** What a change files anew in a policy: one pass over its resources, however many changes there are. */
function* filedAnew(policy: Policy, delta: Delta): Generator<void, string[]> {
	const resourceIds = new Set<string>();
	const fences: Fence[] = [];
	const releases: Release[] = [];
	for (const change of delta) {
		if (change.kind === 'resource') resourceIds.add(change.id);
		if (change.kind === 'fence') fences.push(...[change.before, change.after].filter((one) => one !== null));
		if (change.kind === 'release')
			releases.push(...[change.before, change.after].filter((one) => one !== null));
	}
	const crossingIds = new Set(
		namingsIn(delta).map(({ before, after }) => (after ?? before)?.crossingId ?? '')
	);
	if (crossingIds.size > 0)
		for (const fence of policy.source.fences)
			if (fence.crossings.some(({ id }) => crossingIds.has(id))) fences.push(fence);
	const index = FenceIndex.of(fences);
	const filed = [...resourceIds];
	yield* each(policy.resources.values(), AT_ONCE, (resource) => {
		const homes = policy.homesOf(resource);
		const isFiled =
			homes.some((home) => resourceIds.has(home)) ||
			(fences.length > 0 && catches(index, policy, resource)) ||
			releases.some((release) => isFor(release, resource, homes));
		if (isFiled) filed.push(resource.id);
	});
	return filed;
}

function catches(index: FenceIndex, policy: Policy, resource: Resource): boolean {
	const { siteId, address } = resource;
	return index.catching({ resource, siteId, address, homes: policy.homesOf(resource) }).length > 0;
}

function catchesAny(fence: Fence, resourceIds: ReadonlySet<string>, now: Policy): boolean {
	const index = FenceIndex.of([fence]);
	for (const id of resourceIds) {
		const resource = now.resources.get(id);
		if (resource && catches(index, now, resource)) return true;
	}
	return false;
}

function isFor({ target }: Release, resource: Resource, homes: readonly string[]): boolean {
	if (target.kind === 'category') return resource.categoryId === target.id;
	return resource.id === target.id || homes.includes(target.id);
}
