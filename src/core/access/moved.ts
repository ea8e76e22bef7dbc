/**
 * Whether a yes still holds: whether anything that a rehearsal looked at has moved since.
 *
 * A rehearsal looks at the resources that its change files anew, and on the walk of each at its homes, the fences that
 * catch it and the releases that count for it. What else happened meanwhile, a file that came in or a fence elsewhere, does
 * not matter. Example: a yes to closing one course holds although a film was uploaded; it does not when somebody changed
 * that course's fence, or has published another lesson in it.
 */
import { drained, each } from '../pieces';
import { keyOf, undone, type Change, type Delta } from './delta';
import type { Fence, Release, Resource } from './model';
import { namingsIn } from './namings';
import type { Policy } from './policy';
import { FenceIndex } from './selector';

export interface LookedAt {
	/** Keys of entities, as `keyOf` writes them. */
	keys: ReadonlySet<string>;
	/** Resources that the change files anew. */
	resourceIds: ReadonlySet<string>;
	/** These, and what they follow the rules of. */
	walkedIds: ReadonlySet<string>;
	/** Addresses without a resource that it files anew. */
	addresses: readonly string[];
	/** Everything: rules of the site, or a plan, changed. */
	isAll: boolean;
	/** The change itself, and the policies without and with it. */
	delta: Delta;
	policies: readonly [before: Policy, after: Policy];
}

/**
 * @param before the policy that was rehearsed against; @param after with the change
 * @param addresses of pages without a resource that were looked at
 */
export function lookedAt(
	before: Policy,
	after: Policy,
	delta: Delta,
	addresses: readonly string[] = []
): LookedAt {
	return drained(lookingAt(before, after, delta, addresses));
}

/** So many resources are looked at without a pause. */
const AT_ONCE = 500;

/** The same in pieces. */
export function* lookingAt(
	before: Policy,
	after: Policy,
	delta: Delta,
	addresses: readonly string[] = []
): Generator<void, LookedAt> {
	const isAll = delta.some(({ kind }) => kind === 'site' || kind === 'plan');
	const resourceIds = isAll
		? new Set([...before.resources.keys(), ...after.resources.keys()])
		: new Set([...(yield* filedAnew(before, delta)), ...(yield* filedAnew(after, delta))]);
	const own = FenceIndex.of(fencesOf(delta, before));
	const filed = addresses.filter((address) => isAll || own.catching(pageAt(address)).length > 0);
	const keys = new Set(delta.map(keyOf));
	const walkedIds = new Set<string>();
	for (const policy of [before, after]) {
		followers(policy, resourceIds);
		const releases = new Map<string, Release[]>();
		for (const release of policy.source.releases)
			releases.set(release.target.id, [...(releases.get(release.target.id) ?? []), release]);
		const walking: Walking = { policy, releases, keys, visited: new Set() };
		for (const address of filed) for (const fence of policy.fencesAt(address)) cross(walking, fence);
		yield* each(resourceIds, AT_ONCE, (id) => walk(walking, id));
		for (const id of walking.visited) walkedIds.add(id);
	}
	return { keys, resourceIds, walkedIds, addresses: filed, isAll, delta, policies: [before, after] };
}

function pageAt(address: string) {
	return { resource: null, address, homes: [] };
}

/** What follows the rules of something that is filed anew is filed anew with it. */
function followers(policy: Policy, resourceIds: Set<string>): void {
	for (let size = -1; size !== resourceIds.size;) {
		size = resourceIds.size;
		const following = fencesFollowing(policy, resourceIds);
		if (following.length === 0) return;
		const index = FenceIndex.of(following);
		for (const resource of policy.resources.values())
			if (catches(index, policy, resource)) resourceIds.add(resource.id);
	}
}

function fencesFollowing(policy: Policy, resourceIds: ReadonlySet<string>): Fence[] {
	return policy.source.fences.filter((fence) => followsAny(fence, resourceIds));
}

function followsAny({ crossings }: Fence, resourceIds: ReadonlySet<string>): boolean {
	return crossings.some(
		({ audience }) => audience.kind === 'may-open' && resourceIds.has(audience.resourceId)
	);
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
	for (const { fence } of policy.caughtBy(resource)) cross(walking, fence);
	for (const target of [id, ...homes, resource.categoryId ?? ''])
		for (const release of releases.get(target) ?? [])
			if (isFor(release, resource, homes)) keys.add(`release:${release.id}`);
}

/** A fence on the walk, the plans that it lets in, and what it follows the rules of. */
function cross(walking: Walking, fence: Fence): void {
	walking.keys.add(`fence:${fence.id}`);
	for (const { audience } of fence.crossings) {
		if (audience.kind === 'holders')
			for (const planId of audience.planIds) walking.keys.add(`plan:${planId}`);
		if (audience.kind === 'may-open') walk(walking, audience.resourceId);
	}
}

/**
 * What happened since that the rehearsal would have looked at. What was looked at may know of it already (it is asked with
 * the policy of now) or not yet (it came while the save was on its way).
 */
export function hasMoved(looked: LookedAt, since: Delta): boolean {
	if (since.length === 0) return false;
	const [before] = looked.policies;
	const policies = [...looked.policies, before.with(since), before.with(undone(since))];
	const filings = policies.map((policy) =>
		filingOf(looked.delta, policy, fencesFollowing(policy, looked.resourceIds))
	);
	// What nobody sees yet has no access that could move.
	const isFiled = (one: Resource) =>
		one.state !== 'draft' && (looked.isAll || filings.some((isFiledIn) => isFiledIn(one)));
	const moved = movedHomes(since);
	const livesInMoved = (policy: Policy, one: Resource) =>
		one.homeId !== null && policy.homesOf(one).some((home) => moved.has(home));
	return (
		since.some((change) => matters(looked, change, policies, isFiled)) ||
		(moved.size > 0 &&
			policies.some((policy) => {
				for (const one of policy.resources.values())
					if (livesInMoved(policy, one) && isFiled(one)) return true;
				return false;
			}))
	);
}

/** What nobody sees, before and after, has no access that could move; only a change of it itself looked at it. */
function isHidden({ kind, before, after }: Change): boolean {
	if (kind !== 'resource') return false;
	return [before, after].every((one) => one === null || (one as Resource).state === 'draft');
}

/** Resources that live elsewhere by now, with all that lives in them. */
function movedHomes(since: Delta): Set<string> {
	return new Set(
		since.flatMap((one) =>
			one.kind === 'resource' && one.before?.homeId !== one.after?.homeId ? one.id : []
		)
	);
}

function matters(
	{ keys, walkedIds, addresses, isAll, delta }: LookedAt,
	change: Change,
	policies: readonly Policy[],
	isFiled: (resource: Resource) => boolean
): boolean {
	if (isHidden(change)) return delta.some((own) => own.kind === 'resource' && own.id === change.id);
	if (keys.has(keyOf(change)) || change.kind === 'site') return true;
	const isAnywhere = (is: (resource: Resource, policy: Policy) => boolean) =>
		policies.some((policy) => {
			for (const id of walkedIds) {
				const resource = policy.resources.get(id);
				if (resource && is(resource, policy)) return true;
			}
			return false;
		});
	switch (change.kind) {
		case 'resource':
			return [change.before, change.after].some((one) => one !== null && isFiled(one));
		case 'fence': {
			const sides = [change.before, change.after].filter((one) => one !== null);
			const index = FenceIndex.of(sides);
			return (
				sides.some((one) => followsAny(one, walkedIds)) ||
				addresses.some((address) => index.catching(pageAt(address)).length > 0) ||
				isAnywhere((resource, policy) => catches(index, policy, resource))
			);
		}
		case 'release': {
			const releases = [change.before, change.after].filter((one) => one !== null);
			return isAnywhere((resource, policy) =>
				releases.some((release) => isFor(release, resource, policy.homesOf(resource)))
			);
		}
		case 'plan':
			return isAll;
		case 'naming':
			// What members have is theirs to change at any time.
			return false;
	}
}

/** What a change files anew in a policy: one pass over its resources, however many changes there are. */
function* filedAnew(policy: Policy, delta: Delta): Generator<void, string[]> {
	const isFiled = filingOf(delta, policy);
	const filed = delta.filter(({ kind }) => kind === 'resource').map(({ id }) => id);
	yield* each(policy.resources.values(), AT_ONCE, (resource) => {
		if (isFiled(resource)) filed.push(resource.id);
	});
	return filed;
}

/** Whether a change files a resource anew because of where it stands. @param also fences that count as changed */
function filingOf(
	delta: Delta,
	policy: Policy,
	also: readonly Fence[] = []
): (resource: Resource) => boolean {
	const resourceIds = new Set(delta.filter(({ kind }) => kind === 'resource').map(({ id }) => id));
	const releases = delta.flatMap((one) =>
		one.kind === 'release' ? [one.before, one.after].filter((side) => side !== null) : []
	);
	const index = FenceIndex.of([...fencesOf(delta, policy), ...also]);
	return (resource) => {
		const homes = policy.homesOf(resource);
		return (
			homes.some((home) => resourceIds.has(home)) ||
			catches(index, policy, resource) ||
			releases.some((release) => isFor(release, resource, homes))
		);
	};
}

/** The fences of a change, before and after it, and those whose crossings name others. */
function fencesOf(delta: Delta, policy: Policy): Fence[] {
	const crossingIds = new Set(
		namingsIn(delta).map(({ before, after }) => (after ?? before)?.crossingId ?? '')
	);
	return [
		...delta.flatMap((one) =>
			one.kind === 'fence' ? [one.before, one.after].filter((side) => side !== null) : []
		),
		...policy.source.fences.filter(({ crossings }) => crossings.some(({ id }) => crossingIds.has(id)))
	];
}

function catches(index: FenceIndex, policy: Policy, resource: Resource): boolean {
	const { siteId, address } = resource;
	return index.catching({ resource, siteId, address, homes: policy.homesOf(resource) }).length > 0;
}

function isFor({ target }: Release, resource: Resource, homes: readonly string[]): boolean {
	if (target.kind === 'category') return resource.categoryId === target.id;
	return resource.id === target.id || homes.includes(target.id);
}
