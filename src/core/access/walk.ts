/**
 * The walk: from the fences that catch a place to what counts there.
 *
 * Fences that are on are met narrowest first, those of one rank together. Fences that add bring their crossings and let
 * the walk go on. At the first rank where one replaces or seals, the walk ends: wider fences are passed over, except that
 * past one that replaces, their crossings that hold throughout still count. Past the last fence lies the base. Equals
 * join: any of their crossings may be used, and the strictest of their turn-aways counts (absent, sent, notice; then the
 * oldest). Example: a lesson behind "the course: holders of Workshop" and an adding fence "this lesson: anyone" is open to
 * anyone.
 */
import type { Instant } from '../time/instant';
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
	/** For named members: the day each was named. */
	named: ReadonlyMap<string, Instant> | null;
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
	/** Fences that the walk did not reach, and the one that ended it. */
	beyond: { fences: Fence[]; endedBy: Fence } | null;
	/** Whether the base is reached. */
	reachesBase: boolean;
	turnAway: TurnAway;
	isListed: boolean;
	/** Plans on public sale that some way is for. */
	openedBy: string[];
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

/** Where the walk ends: the oldest fence there that replaces or seals. */
interface Ending {
	fence: Fence;
	rank: number;
	isSealed: boolean;
}

export function walk(caught: readonly Caught[], releases: readonly NearRelease[], ground: Ground): Passage {
	const off: Fence[] = [];
	const met: Caught[] = [];
	const beyond: Caught[] = [];
	let end = null as Ending | null;
	for (const one of caught) {
		if (!one.fence.isOn) off.push(one.fence);
		else if (end === null || one.rank === end.rank) {
			met.push(one);
			if (one.fence.mode !== 'adds') {
				const isSealed = one.fence.mode === 'seals' || (end !== null && end.isSealed);
				end = { fence: end === null ? one.fence : end.fence, rank: one.rank, isSealed };
			}
		} else beyond.push(one);
	}
	const ways = met.flatMap((one) =>
		one.fence.crossings.map((crossing) => way(one, crossing, false, releases, ground))
	);
	if (end && !end.isSealed) {
		for (const one of beyond)
			for (const crossing of one.fence.crossings)
				if (crossing.isThroughout) ways.push(way(one, crossing, true, releases, ground));
	}
	return {
		ways,
		met: met.map(({ fence }) => fence),
		off,
		beyond:
			end && beyond.length > 0 ? { fences: beyond.map(({ fence }) => fence), endedBy: end.fence } : null,
		reachesBase: end === null,
		turnAway: turnAwayOf(met) ?? ground.turnAway,
		isListed: isListed(met),
		openedBy: openedBy(ways, ground),
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
		plans: audience.kind === 'holders' ? planWays(audience, crossing, rank, limits, releases, ground) : null,
		named:
			audience.kind === 'named'
				? new Map(audience.members.map(({ memberId, since }) => [memberId, since]))
				: null
	};
	if (isShared) ground.ways.set(crossing, made);
	return made;
}

/**
 * Whether a crossing for a code also counts on devices without an account. Openings are counted by account: where they are
 * limited, a device could begin anew by forgetting its cookies, and so it is asked to sign in.
 */
export function isForDevices({ limits }: Pick<Way, 'limits'>): boolean {
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

/** That of the narrowest rank where a fence has one of its own. */
function turnAwayOf(met: readonly Caught[]): TurnAway | null {
	let found: { turnAway: TurnAway; rank: number } | null = null;
	for (const { fence, rank } of met) {
		const { turnAway } = fence;
		if (!turnAway || (found && rank > found.rank)) continue;
		// Met oldest first, so that among the equally strict the oldest stays.
		if (!found || STRICTNESS[turnAway.answer.kind] < STRICTNESS[found.turnAway.answer.kind])
			found = { turnAway, rank };
	}
	return found?.turnAway ?? null;
}

/** The strictest of the rank that closes; fences that add have no say where one closes. */
function isListed(met: readonly Caught[]): boolean {
	const closing = met.filter(({ fence }) => fence.mode !== 'adds');
	return (closing.length > 0 ? closing : met).every(({ fence }) => fence.listing === 'shown');
}

function openedBy(ways: readonly Way[], { plans }: Ground): string[] {
	const ids = new Set(ways.flatMap(({ plans: own }) => (own ? [...own.keys()] : [])));
	return [...ids].filter((id) => plans.get(id)?.isPublic && plans.get(id)?.isOnSale);
}
