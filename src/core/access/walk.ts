/**
 * The walk: from the fences that catch a place to what counts there.
 *
 * Fences that are on are met narrowest first, those of one rank together. Fences that add bring their crossings and let
 * the walk go on. At the first rank where one replaces or seals, the walk ends: wider fences are passed over, except that
 * their crossings that hold throughout still count, up to the first rank that seals. Past the last fence lies the base.
 * Equals join: any of their crossings may be used. Of the turn-aways of what closes and of nearer fences that add, the
 * strictest counts (absent, sent, notice). Example: a lesson behind "the course: holders of Workshop" and an adding fence
 * "this lesson: anyone" is open to anyone.
 */
import type { Instant } from '../time/instant';
import { STANDINGS } from './model';
import type {
	AccessPlan,
	AfterLapse,
	Answer,
	Audience,
	Crossing,
	Fence,
	Release,
	SiteLimits,
	TurnAway,
	UseLimit,
	Viewer,
	Window
} from './model';
import type { Decision } from './decision';
import type { Caught } from './selector';

/** A crossing as it counts at one place. */
export interface Way {
	fence: Fence;
	crossing: Crossing;
	/** Whether it comes from past the end of the walk. */
	isThroughout: boolean;
	/** For plans: each with the window that wins for it. */
	plans: ReadonlyMap<string, PlanWay> | null;
	limits: WayLimits | null;
}

export interface PlanWay {
	planId: string;
	window: Window | null;
	/** The release that the window comes from. */
	releaseId: string | null;
	afterLapse: AfterLapse;
	/** Plans whose grants make up the tenure: the ladder's, or the plan alone. */
	tenureOf: readonly string[];
	limits: WayLimits | null;
}

export interface WayLimits {
	uses: UseLimit | null;
	minutes: number | null;
	hours: number | null;
}

export interface Passage {
	ways: Way[];
	/** Fences that counted, narrowest first. */
	met: Fence[];
	off: Fence[];
	/** Fences that the walk did not reach, each with the one that it ended at: a seal holds against all beyond it. */
	beyond: { fence: Fence; endedBy: Fence }[];
	/** Whether the base is reached. */
	reachesBase: boolean;
	turnAway: TurnAway;
	isListed: boolean;
	/** Set where every way is for anyone, the signed in or holders, without windows and limits: almost everywhere. */
	plain: PlainWays | null;
	/** Decisions that are the same for everybody of one standing: made by whoever decides, and kept here. */
	shut: { stranger: Decision | null; lapsed: Decision | null; withoutPlan: Decision | null };
}

/** The first way for each audience. */
export interface PlainWays {
	anyone: Way | null;
	signedIn: Way | null;
	/** By the index of the plan: the index of the first way for its holders, or -1. */
	holders: Int32Array;
}

/** What the walk needs to know beside the fences. */
export interface Ground {
	/** Ways of crossings where no release is near: the same at every place, so they are made once. */
	ways: Map<Crossing, Way>;
	/** Every plan has a number. */
	planIndex: ReadonlyMap<string, number>;
	plans: ReadonlyMap<string, AccessPlan>;
	/** Plans of each ladder. */
	ladders: ReadonlyMap<string, readonly string[]>;
	turnAway: TurnAway;
	limits: SiteLimits;
}

/** A release that matches the place, and how near it is. */
export interface NearRelease {
	release: Release;
	rank: number;
}

export function walk(caught: readonly Caught[], releases: readonly NearRelease[], ground: Ground): Passage {
	const on = caught.filter(({ fence }) => fence.isOn);
	// They stand narrowest first, the oldest first among equals.
	const ending = on.find(({ fence }) => fence.mode !== 'adds') ?? null;
	const seal = on.find(({ fence }) => fence.mode === 'seals') ?? null;
	const met = ending ? on.filter(({ rank }) => rank <= ending.rank) : on;
	const beyond = on.slice(met.length);
	const ways = met.flatMap((one) =>
		one.fence.crossings.map((crossing) => way(one, crossing, false, releases, ground))
	);
	for (const one of beyond) {
		// A seal holds against all that is wider, however many fences stand within it.
		if (seal && one.rank > seal.rank) break;
		for (const crossing of one.fence.crossings)
			if (crossing.isThroughout) ways.push(way(one, crossing, true, releases, ground));
	}
	return {
		ways,
		met: met.map(({ fence }) => fence),
		off: caught.filter(({ fence }) => !fence.isOn).map(({ fence }) => fence),
		beyond: beyond.flatMap(({ fence, rank }) => {
			const endedBy = seal && rank > seal.rank ? seal.fence : ending?.fence;
			return endedBy ? [{ fence, endedBy }] : [];
		}),
		reachesBase: ending === null,
		turnAway: turnAwayOf(met, ground.turnAway),
		isListed: met.every(({ fence }) => fence.listing === 'shown'),
		plain: ways.every(isPlain) ? plainWays(ways, ground) : null,
		shut: { stranger: null, lapsed: null, withoutPlan: null }
	};
}

function plainWays(ways: readonly Way[], { planIndex }: Ground): PlainWays {
	const holders = new Int32Array(planIndex.size).fill(-1);
	ways.forEach((way, order) => {
		for (const planId of way.plans?.keys() ?? []) {
			const index = planIndex.get(planId) ?? -1;
			if (holders[index] === -1) holders[index] = order;
		}
	});
	const first = (kind: Audience['kind']) =>
		ways.find(({ crossing }) => crossing.audience.kind === kind) ?? null;
	return { anyone: first('anyone'), signedIn: first('signed-in'), holders };
}

function isPlain({ crossing, plans, limits }: Way): boolean {
	if (plans) return limits === null && [...plans.values()].every((plan) => plan.window === null);
	const { kind } = crossing.audience;
	return (kind === 'anyone' || kind === 'signed-in') && crossing.window === null && limits === null;
}

function way(
	{ fence, rank }: Caught,
	crossing: Crossing,
	isThroughout: boolean,
	releases: readonly NearRelease[],
	ground: Ground
): Way {
	const isShared = releases.length === 0 && !isThroughout;
	const known = isShared ? ground.ways.get(crossing) : undefined;
	if (known) return known;
	const { audience } = crossing;
	const limits = limitsOf(crossing, ground.limits);
	const made: Way = {
		fence,
		crossing,
		isThroughout,
		limits,
		plans: audience.kind === 'holders' ? planWays(audience, crossing, rank, limits, releases, ground) : null
	};
	if (isShared) ground.ways.set(crossing, made);
	return made;
}

/** Since when a viewer is named in the crossing; `undefined`: they are not. */
export function namedSince({ crossing }: Pick<Way, 'crossing'>, viewer: Viewer): Instant | undefined {
	if (viewer.kind === 'stranger') return undefined;
	return viewer.namings.find(({ crossingId }) => crossingId === crossing.id)?.since;
}

/**
 * Whether what a code opens or gives also counts on devices without an account. Openings are counted by account: where they are
 * limited, a device could begin anew by forgetting its cookies, and so it is asked to sign in.
 */
export function isForDevices({ limits }: { limits: WayLimits | null }): boolean {
	return limits === null || (limits.uses === null && limits.minutes === null);
}

function planWays(
	{ planIds }: Extract<Audience, { kind: 'holders' }>,
	crossing: Crossing,
	rank: number,
	limits: WayLimits | null,
	releases: readonly NearRelease[],
	{ plans, ladders }: Ground
): Map<string, PlanWay> {
	const ways = new Map<string, PlanWay>();
	for (const planId of planIds) {
		const plan = plans.get(planId);
		// A plan that is gone is held by nobody.
		if (!plan) continue;
		const release = nearestRelease(releases, planId);
		// The nearest window wins; at one rank the release.
		const isRelease = release !== null && (crossing.window === null || release.rank <= rank);
		ways.set(planId, {
			planId,
			window: isRelease ? release.release.window : crossing.window,
			releaseId: isRelease ? release.release.id : null,
			afterLapse: plan.afterLapse,
			tenureOf: (plan.ladderId === null ? null : ladders.get(plan.ladderId)) ?? [planId],
			limits
		});
	}
	return ways;
}

function nearestRelease(releases: readonly NearRelease[], planId: string): NearRelease | null {
	let nearest: NearRelease | null = null;
	for (const one of releases)
		if (one.release.planId === planId && (nearest === null || one.rank < nearest.rank)) nearest = one;
	return nearest;
}

function limitsOf({ limits }: Crossing, site: SiteLimits): WayLimits | null {
	const pick = <T>(own: 'site' | 'none' | T, siteWide: T | 'none'): T | null => {
		const chosen = own === 'site' ? siteWide : own;
		return chosen === 'none' ? null : chosen;
	};
	const uses = pick(limits.uses, site.uses);
	const minutes = pick(limits.minutes, site.minutes);
	const hours = pick(limits.hours, site.hours);
	return uses === null && minutes === null && hours === null ? null : { uses, minutes, hours };
}

const STRICTNESS: Record<Answer['kind'], number> = { absent: 0, sent: 1, notice: 2 };

/**
 * The strictest of what closes and of the fences nearer to the thing that add and have words of their own; the nearest
 * among the equally strict, then the oldest. What closes is the rank that ends the walk, or the base, for which the site's
 * default speaks; a fence there without a turn-away of its own has the site's default. Each case is weighed by itself.
 */
function turnAwayOf(met: readonly Caught[], site: TurnAway): TurnAway {
	const said = met.flatMap(({ fence }) => fence.turnAway ?? (fence.mode === 'adds' ? [] : site));
	if (met.every(({ fence }) => fence.mode === 'adds')) said.push(site);
	const [only, ...others] = said;
	if (!only || others.length === 0) return only ?? site;
	const general = said.reduce((a, b) => (isStricter(b.answer, a.answer) ? b : a));
	const cases: TurnAway['cases'] = {};
	for (const standing of STANDINGS) {
		if (said.every((one) => !one.cases[standing])) continue;
		cases[standing] = said
			.map((one) => one.cases[standing] ?? one.answer)
			.reduce((a, b) => (isStricter(b, a) ? b : a));
	}
	return { ...general, cases };
}

function isStricter(a: Answer, b: Answer): boolean {
	return STRICTNESS[a.kind] < STRICTNESS[b.kind];
}
