/**
 * Compiles the sources of access into what decisions are taken from.
 *
 * Compiling files fences, releases and resources and looks at none of them closely; what counts at a place is worked out
 * when it is first asked for, and kept.
 */
import type { AccessPlan, Fence, Grant, PolicySource, Release, Resource, Viewer } from './model';
import { heldOf, StepClock, type Held } from './clock';
import { applied, type Change, type Delta, type EntityKind } from './delta';
import { LayeredMap } from '../layered-map';
import { drained, each } from '../pieces';
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

/** Resources by what they are found by. */
interface Filed {
	byId: LayeredMap<Resource>;
	/** Of Stile's own site. */
	byAddress: LayeredMap<Resource>;
	/** Of every other. */
	bySite: ReadonlyMap<string, LayeredMap<Resource>>;
}

/** What decides beside the resources, and what was worked out from it. */
interface Rules {
	index: FenceIndex;
	plans: Map<string, AccessPlan>;
	planIndex: Map<string, number>;
	clock: StepClock;
	ground: Ground;
	releasesByTarget: Map<string, Release[]>;
	addressPassages: Map<string, Passage>;
	shared: Shared;
	held: WeakMap<Viewer, Map<string, Held | null>>;
	times: WeakMap<Viewer, Map<PlanWay, Map<Grant, GrantTimes>>>;
}

export class Policy {
	readonly resources: ReadonlyMap<string, Resource>;
	/** Of Stile's own site; those of others by `resourceAt`. */
	readonly byAddress: ReadonlyMap<string, Resource>;
	readonly plans: ReadonlyMap<string, AccessPlan>;
	/** Every plan has a number: tables by plan are small and quick. */
	readonly planIndex: ReadonlyMap<string, number>;
	readonly clock: StepClock;

	private constructor(
		readonly source: PolicySource,
		private readonly filed: Filed,
		private readonly rules: Rules,
		private readonly entries: LayeredMap<Entry>
	) {
		this.resources = filed.byId;
		this.byAddress = filed.byAddress;
		this.plans = rules.plans;
		this.planIndex = rules.planIndex;
		this.clock = rules.clock;
	}

	/** In pieces of a few milliseconds, so that requests go on while a policy of many fences is compiled. */
	static *compiling(source: PolicySource): Generator<void, Policy> {
		const index = yield* FenceIndex.building(source.fences);
		const filed = yield* filing(source.resources);
		return new Policy(source, filed, rulesOf(source, index), yield* unasked(filed.byId));
	}

	/**
	 * The policy after a change. Only what the change touches is filed anew: where no fence, plan, release or rule of the site
	 * is among it, what was worked out stays known, but for what lives in something that has moved. In pieces.
	 */
	*refiling(delta: Delta): Generator<void, Policy> {
		const touched = delta.filter((one) => one.kind === 'resource');
		const hasFences = delta.some(({ kind }) => kind === 'fence');
		const hasRules = hasFences || delta.some(({ kind }) => RULES.has(kind));
		if (touched.length === 0 && !hasRules) return this;
		const source = applied(this.source, delta);
		yield;
		const filed = touched.length === 0 ? this.filed : refiled(this.filed, touched);
		yield;
		if (hasRules) {
			const index = hasFences ? yield* FenceIndex.building(source.fences) : this.rules.index;
			return new Policy(source, filed, rulesOf(source, index), yield* unasked(filed.byId));
		}
		const anew = new Map(touched.map(({ id, after }) => [id, after && { resource: after, passage: null }]));
		const hasMoved = touched.some(({ before, after }) => before?.homeId !== after?.homeId);
		if (hasMoved) {
			const moved = new Set(touched.map(({ id }) => id));
			yield* each(this.entries.values(), FILED_AT_ONCE, ({ resource }) => {
				if (!moved.has(resource.id) && this.homesOf(resource).some((home) => moved.has(home)))
					anew.set(resource.id, { resource, passage: null });
			});
		}
		return new Policy(source, filed, this.rules, this.entries.with(anew));
	}

	/** The same at once. */
	with(delta: Delta): Policy {
		return drained(this.refiling(delta));
	}

	/** What has an address. @param siteId of an outside site; left out: Stile's own */
	resourceAt(address: string, siteId?: string): Resource | null {
		const known = siteId === undefined ? this.byAddress : this.filed.bySite.get(siteId);
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
		return releases.length === 0 ? this.walked(caught) : walk(caught, releases, this.rules.ground);
	}

	/** The walk without releases: places that the same fences catch share it. */
	private walked(caught: readonly Caught[]): Passage {
		let at = this.rules.shared;
		for (const { fence, rank } of caught) {
			let byRank = at.further.get(fence);
			if (!byRank) at.further.set(fence, (byRank = new Map()));
			let next = byRank.get(rank);
			if (!next) byRank.set(rank, (next = { passage: null, further: new Map() }));
			at = next;
		}
		return (at.passage ??= walk(caught, [], this.rules.ground));
	}

	/** What counts at an address that belongs to no resource: `normalised` is its one spelling. */
	passageOf(normalised: string, siteId?: string): Passage {
		const key = siteId === undefined ? normalised : `${siteId} ${normalised}`;
		const known = this.rules.addressPassages.get(key);
		if (known) return known;
		const place = { resource: null, siteId, address: normalised, homes: [] };
		const made = this.walked(this.rules.index.catching(place));
		// Strangers may ask for any number of addresses.
		if (this.rules.addressPassages.size >= ADDRESSES_KEPT) this.rules.addressPassages.clear();
		this.rules.addressPassages.set(key, made);
		return made;
	}

	/** The fences that catch an address that belongs to no resource, on or off. */
	fencesAt(normalised: string): Fence[] {
		const place = { resource: null, address: normalised, homes: [] };
		return this.rules.index.catching(place).map(({ fence }) => fence);
	}

	/** The fences that catch a resource, on or off. */
	caughtBy(resource: Resource): Caught[] {
		const { siteId, address } = resource;
		return this.rules.index.catching({ resource, siteId, address, homes: this.homesOf(resource) });
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

	/** Somebody's time with a plan or its ladder. */
	heldBy(viewer: Viewer, tenureOf: readonly string[]): Held | null {
		let own = this.rules.held.get(viewer);
		if (!own) this.rules.held.set(viewer, (own = new Map()));
		const key = tenureOf.join();
		const known = own.get(key);
		if (known !== undefined) return known;
		const made = heldOf(
			viewer.grants.filter((grant) => tenureOf.includes(grant.planId)),
			viewer.kind === 'member' ? viewer.tenures.filter(({ planId }) => tenureOf.includes(planId)) : [],
			this.source.lapseAfterDays
		);
		own.set(key, made);
		return made;
	}

	/** Remembers what `make` gives for somebody's grant on a plan's way. */
	rememberTimes(viewer: Viewer, way: PlanWay, grant: Grant, make: () => GrantTimes): GrantTimes {
		let byWay = this.rules.times.get(viewer);
		if (!byWay) this.rules.times.set(viewer, (byWay = new Map()));
		let byGrant = byWay.get(way);
		if (!byGrant) byWay.set(way, (byGrant = new Map()));
		let made = byGrant.get(grant);
		if (!made) byGrant.set(grant, (made = make()));
		return made;
	}

	private releasesNear(resource: Resource, homes: readonly string[]): NearRelease[] {
		if (this.rules.releasesByTarget.size === 0) return [];
		const near: NearRelease[] = [];
		const add = (key: string, rank: number) => {
			for (const release of this.rules.releasesByTarget.get(key) ?? []) near.push({ release, rank });
		};
		add(targetKey('resource', resource.id), RANK.self);
		homes.forEach((id, n) => add(targetKey('resource', id), RANK.within + (n + 1) * 2 + 1));
		if (resource.categoryId !== null) add(targetKey('category', resource.categoryId), RANK.category);
		return near;
	}
}

export function compile(source: PolicySource): Policy {
	return drained(Policy.compiling(source));
}

/** Resources filed, or looked at, between two pauses. */
const FILED_AT_ONCE = 5000;

/** Kinds of changes that decide everywhere. */
const RULES: ReadonlySet<EntityKind> = new Set(['plan', 'release', 'site']);

function* filing(resources: readonly Resource[]): Generator<void, Filed> {
	const byId = new Map<string, Resource>();
	const byAddress = new Map<string, Resource>();
	const bySite = new Map<string, Map<string, Resource>>();
	yield* each(resources, FILED_AT_ONCE, (resource) => {
		byId.set(resource.id, resource);
		const { siteId, address } = resource;
		if (address === null) return;
		if (siteId === undefined) return void byAddress.set(address, resource);
		let known = bySite.get(siteId);
		if (!known) bySite.set(siteId, (known = new Map()));
		known.set(address, resource);
	});
	return {
		byId: LayeredMap.of(byId),
		byAddress: LayeredMap.of(byAddress),
		bySite: new Map([...bySite].map(([siteId, known]) => [siteId, LayeredMap.of(known)]))
	};
}

/** Nothing is worked out yet. */
function* unasked(resources: LayeredMap<Resource>): Generator<void, LayeredMap<Entry>> {
	const entries = new Map<string, Entry>();
	yield* each(resources.values(), FILED_AT_ONCE, (resource) => {
		entries.set(resource.id, { resource, passage: null });
	});
	return LayeredMap.of(entries);
}

/** With what was touched filed anew. */
function refiled(
	{ byId, byAddress, bySite }: Filed,
	touched: readonly Extract<Change, { kind: 'resource' }>[]
): Filed {
	/** By site, `''` for Stile's own, then by address. */
	const addresses = new Map<string, Map<string, Resource | null>>();
	const at = (siteId = '') => {
		let known = addresses.get(siteId);
		if (!known) addresses.set(siteId, (known = new Map()));
		return known;
	};
	// Two may change places: first all old addresses go, then the new ones come.
	for (const { id } of touched) {
		const before = byId.get(id);
		if (before?.address) at(before.siteId).set(before.address, null);
	}
	for (const { after } of touched) if (after?.address) at(after.siteId).set(after.address, after);
	const sites = new Map(bySite);
	for (const [siteId, changes] of addresses)
		if (siteId !== '') sites.set(siteId, (sites.get(siteId) ?? LayeredMap.of(new Map())).with(changes));
	return {
		byId: byId.with(new Map(touched.map(({ id, after }) => [id, after]))),
		byAddress: byAddress.with(at()),
		bySite: sites
	};
}

function rulesOf(source: PolicySource, index: FenceIndex): Rules {
	const plans = new Map(source.plans.map((plan) => [plan.id, plan]));
	const planIndex = new Map(source.plans.map((plan, n) => [plan.id, n]));
	const releasesByTarget = new Map<string, Release[]>();
	for (const release of source.releases) {
		const key = targetKey(release.target.kind, release.target.id);
		const known = releasesByTarget.get(key);
		if (known) known.push(release);
		else releasesByTarget.set(key, [release]);
	}
	return {
		index,
		plans,
		planIndex,
		clock: new StepClock(source.zone, source.releaseHour),
		ground: {
			ways: new Map(),
			planIndex,
			plans,
			ladders: laddersOf(source.plans),
			turnAway: source.turnAway,
			limits: source.limits
		},
		releasesByTarget,
		addressPassages: new Map(),
		shared: { passage: null, further: new Map() },
		held: new WeakMap(),
		times: new WeakMap()
	};
}

/**
 * What a plan's holders may open and strangers know of, in the order of the Library.
 * @param among `drafts`: what they may open as soon as it is published
 */
export function openedByPlan(
	policy: Policy,
	planId: string,
	among: 'published' | 'drafts' = 'published'
): Resource[] {
	const opened: Resource[] = [];
	for (const resource of policy.resources.values()) {
		if (resource.state === 'archived' || resource.address === null) continue;
		if ((resource.state === 'draft') !== (among === 'drafts')) continue;
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
