/**
 * Compiles the sources of access into what decisions are taken from.
 *
 * Compiling files fences, releases and resources and looks at none of them closely; what counts at a place is worked out
 * when it is first asked for, and kept.
 */
import type { AccessPlan, Fence, Grant, Member, PolicySource, Release, Resource } from './model';
import { heldOf, StepClock, type Held } from './clock';
import { drained } from '../pieces';
import { FenceIndex, RANK, type Caught } from './selector';
import { walk, type Ground, type NearRelease, type Passage, type PlanWay } from './walk';
import type { GrantTimes } from './grant-times';

/** How far homes may nest: deeper is a circle or a mistake. */
export const MAX_DEPTH = 32;

const ADDRESSES_KEPT = 8192;

/** A resource and, once somebody asked, what counts there. */
interface Entry {
	resource: Resource;
	passage: Passage | null;
}

/** Where a viewer stands before something: a resource, or a page of the site that belongs to none. */
export interface Place {
	passage: Passage;
	base: 'open' | 'closed';
	state: Resource['state'];
	publishAt: Resource['publishAt'];
}

/** Passages by the fences that were caught on the way to them, narrowest first. */
interface Shared {
	passage: Passage | null;
	further: Map<Fence, Map<number, Shared>>;
}

export class Policy {
	readonly resources: ReadonlyMap<string, Resource>;
	/** Of Stile's own site; those of others by `resourceAt`. */
	readonly byAddress: ReadonlyMap<string, Resource>;
	private readonly bySite = new Map<string, Map<string, Resource>>();
	readonly plans: ReadonlyMap<string, AccessPlan>;
	/** Every plan has a number: tables by plan are small and quick. */
	readonly planIndex: ReadonlyMap<string, number>;
	readonly clock: StepClock;
	private readonly ground: Ground;
	private readonly releasesByTarget = new Map<string, Release[]>();
	private readonly entries = new Map<string, Entry>();
	private readonly addressPassages = new Map<string, Passage>();
	private readonly shared: Shared = { passage: null, further: new Map() };
	private readonly held = new WeakMap<Member, Map<string, Held | null>>();
	private readonly times = new WeakMap<Member, Map<PlanWay, Map<Grant, GrantTimes>>>();

	constructor(
		readonly source: PolicySource,
		private readonly index: FenceIndex
	) {
		this.resources = new Map(source.resources.map((resource) => [resource.id, resource]));
		for (const resource of source.resources) this.entries.set(resource.id, { resource, passage: null });
		const own = new Map<string, Resource>();
		for (const resource of source.resources) {
			const { siteId, address } = resource;
			if (address === null) continue;
			let known = siteId === undefined ? own : this.bySite.get(siteId);
			if (!known) this.bySite.set(siteId ?? '', (known = new Map()));
			known.set(address, resource);
		}
		this.byAddress = own;
		this.plans = new Map(source.plans.map((plan) => [plan.id, plan]));
		this.planIndex = new Map(source.plans.map((plan, n) => [plan.id, n]));
		this.clock = new StepClock(source.zone, source.releaseHour);
		this.ground = {
			ways: new Map(),
			planIndex: this.planIndex,
			plans: this.plans,
			ladders: laddersOf(source.plans),
			turnAway: source.turnAway,
			limits: source.limits
		};
		for (const release of source.releases) {
			const key = targetKey(release.target.kind, release.target.id);
			const known = this.releasesByTarget.get(key);
			if (known) known.push(release);
			else this.releasesByTarget.set(key, [release]);
		}
	}

	/** What has an address. @param siteId of an outside site; left out: Stile's own */
	resourceAt(address: string, siteId?: string): Resource | null {
		const known = siteId === undefined ? this.byAddress : this.bySite.get(siteId);
		return known?.get(address) ?? null;
	}

	/** What counts at a resource. */
	passage(resource: Resource): Passage {
		const entry = this.entries.get(resource.id);
		return entry ? this.passageAt(entry) : this.walkTo(resource);
	}

	/** A resource with its passage, in one step: this is where every decision begins. */
	entry(id: string): (Entry & { passage: Passage }) | null {
		const entry = this.entries.get(id);
		if (!entry) return null;
		this.passageAt(entry);
		return entry as Entry & { passage: Passage };
	}

	/** @param id of a resource, or the normalised path of a page that belongs to none, such as `/` */
	place(id: string): Place | null {
		if (id.startsWith('/'))
			return { passage: this.passageOf(id), base: 'open', state: 'published', publishAt: null };
		const entry = this.entry(id);
		if (!entry) return null;
		const { base, state, publishAt } = entry.resource;
		return { passage: entry.passage, base, state, publishAt };
	}

	private passageAt(entry: Entry): Passage {
		return (entry.passage ??= this.walkTo(entry.resource));
	}

	private walkTo(resource: Resource): Passage {
		const releases = this.releasesNear(resource, this.homesOf(resource));
		const caught = this.caughtBy(resource);
		return releases.length === 0 ? this.walked(caught) : walk(caught, releases, this.ground);
	}

	/** The walk without releases: places that the same fences catch share it. */
	private walked(caught: readonly Caught[]): Passage {
		let at = this.shared;
		for (const { fence, rank } of caught) {
			let byRank = at.further.get(fence);
			if (!byRank) at.further.set(fence, (byRank = new Map()));
			let next = byRank.get(rank);
			if (!next) byRank.set(rank, (next = { passage: null, further: new Map() }));
			at = next;
		}
		return (at.passage ??= walk(caught, [], this.ground));
	}

	/** What counts at an address that belongs to no resource: `normalised` is its one spelling. */
	passageOf(normalised: string, siteId?: string): Passage {
		const key = siteId === undefined ? normalised : `${siteId} ${normalised}`;
		const known = this.addressPassages.get(key);
		if (known) return known;
		const place = { resource: null, siteId, address: normalised, homes: [] };
		const made = this.walked(this.index.catching(place));
		// Strangers may ask for any number of addresses.
		if (this.addressPassages.size >= ADDRESSES_KEPT) this.addressPassages.clear();
		this.addressPassages.set(key, made);
		return made;
	}

	/** The fences that catch a resource, on or off. */
	caughtBy(resource: Resource): Caught[] {
		const { siteId, address } = resource;
		return this.index.catching({ resource, siteId, address, homes: this.homesOf(resource) });
	}

	/** The collections that a resource lives in, from the nearest outward. */
	homesOf(resource: Resource): string[] {
		const homes: string[] = [];
		let at = resource.homeId;
		while (at !== null && homes.length < MAX_DEPTH && !homes.includes(at) && at !== resource.id) {
			homes.push(at);
			at = this.resources.get(at)?.homeId ?? null;
		}
		return homes;
	}

	/** A member's time with a plan or its ladder. */
	heldBy(member: Member, tenureOf: readonly string[]): Held | null {
		let own = this.held.get(member);
		if (!own) this.held.set(member, (own = new Map()));
		const key = tenureOf.join();
		const known = own.get(key);
		if (known !== undefined) return known;
		const made = heldOf(
			member.grants.filter((grant) => tenureOf.includes(grant.planId)),
			member.tenures.filter(({ planId }) => tenureOf.includes(planId)),
			this.source.lapseAfterDays
		);
		own.set(key, made);
		return made;
	}

	/** Remembers what `make` gives for a member's grant on a plan's way. */
	rememberTimes(member: Member, way: PlanWay, grant: Grant, make: () => GrantTimes): GrantTimes {
		let byWay = this.times.get(member);
		if (!byWay) this.times.set(member, (byWay = new Map()));
		let byGrant = byWay.get(way);
		if (!byGrant) byWay.set(way, (byGrant = new Map()));
		let made = byGrant.get(grant);
		if (!made) byGrant.set(grant, (made = make()));
		return made;
	}

	private releasesNear(resource: Resource, homes: readonly string[]): NearRelease[] {
		if (this.releasesByTarget.size === 0) return [];
		const near: NearRelease[] = [];
		const add = (key: string, rank: number) => {
			for (const release of this.releasesByTarget.get(key) ?? []) near.push({ release, rank });
		};
		add(targetKey('resource', resource.id), RANK.self);
		homes.forEach((id, n) => add(targetKey('resource', id), RANK.within + (n + 1) * 2 + 1));
		if (resource.categoryId !== null) add(targetKey('category', resource.categoryId), RANK.category);
		return near;
	}
}

export function compile(source: PolicySource): Policy {
	return drained(compiling(source));
}

/** In pieces of a few milliseconds, so that requests go on while a policy of many fences is compiled. */
export function* compiling(source: PolicySource): Generator<void, Policy> {
	const index = yield* FenceIndex.building(source.fences);
	yield;
	return new Policy(source, index);
}

/** What a plan's holders may open and strangers know of, in the order of the Library. */
export function openedByPlan(policy: Policy, planId: string): Resource[] {
	const opened: Resource[] = [];
	for (const resource of policy.resources.values()) {
		if (resource.state === 'draft' || resource.state === 'archived' || resource.address === null) continue;
		if (policy.passage(resource).ways.some(({ plans }) => plans?.has(planId))) opened.push(resource);
	}
	return opened;
}

export const EMPTY_SOURCE: PolicySource = {
	resources: [],
	fences: [],
	plans: [],
	releases: [],
	turnAway: { answer: { kind: 'absent' }, cases: {}, teaser: { kind: 'nothing' } },
	limits: { uses: 'none', minutes: 'none', hours: 'none' },
	zone: 'UTC',
	releaseHour: null,
	lapseAfterDays: 1
};

function laddersOf(plans: readonly AccessPlan[]): Map<string, string[]> {
	const ladders = new Map<string, string[]>();
	for (const { id, ladderId } of plans) {
		if (ladderId === null) continue;
		const known = ladders.get(ladderId);
		if (known) known.push(id);
		else ladders.set(ladderId, [id]);
	}
	return ladders;
}

function targetKey(kind: 'resource' | 'category', id: string): string {
	return `${kind}:${id}`;
}
