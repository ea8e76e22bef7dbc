/** The facts that a decision is made from. Plain data: it can be stored, sent and compared. */
import type { PlanAccess } from '../billing/plan-access';
import type { CalendarUnit } from '../time/calendar';
import type { Instant } from '../time/instant';
import type { RichText } from '../text/rich-text';

export const ITEM_KINDS = ['video', 'audio', 'file', 'page', 'lesson', 'episode', 'event', 'link'] as const;
export type ItemKind = (typeof ITEM_KINDS)[number];

export const COLLECTION_KINDS = ['course', 'section', 'show', 'shelf'] as const;
export type CollectionKind = (typeof COLLECTION_KINDS)[number];

export function isCollection(kind: ResourceKind): kind is CollectionKind {
	return (COLLECTION_KINDS as readonly string[]).includes(kind);
}

export const RESOURCE_KINDS = [...ITEM_KINDS, ...COLLECTION_KINDS] as const;
export type ResourceKind = ItemKind | CollectionKind;

export const ITEM_STATES = ['draft', 'published', 'scheduled', 'archived'] as const;
export type ItemState = (typeof ITEM_STATES)[number];

/** Stile's own site, as rows name it. */
export const OWN_SITE_ID = '00000000-0000-7000-8000-000000000001';

/** An item, or the collection that items live in: whatever can be decided. */
export interface Resource {
	id: string;
	kind: ResourceKind;
	state: ItemState;
	/** When a scheduled resource becomes published; `null` in every other state. */
	publishAt: Instant | null;
	/** Whether it is open or closed when no fence speaks. */
	base: 'open' | 'closed';
	/** The outside site that its address is on; left out: Stile's own. */
	siteId?: string;
	/** Normalised path; `null` for a section, which has no page. */
	address: string | null;
	/** The one section, course, show, shelf or parent page it lives in. */
	homeId: string | null;
	categoryId: string | null;
	tagIds: string[];
	/** Of a file's name, in lower case and without the dot. */
	extension: string | null;
}

/** What a member has of being named in a crossing. It belongs to the member, not to the policy: lists of names may be long. */
export interface Naming {
	crossingId: string;
	/** The day they were named: their windows count from it. */
	since: Instant;
}

export interface NamedMember extends Naming {
	memberId: string;
}

export type Audience =
	| { kind: 'anyone' }
	| { kind: 'signed-in' }
	/** Holders of any of the plans. */
	| { kind: 'holders'; planIds: string[] }
	/** Whoever is named in the crossing, see `Naming`. */
	| { kind: 'named' }
	/** Whoever has redeemed a code of the batch. */
	| { kind: 'code'; batchId: string }
	/** Whoever may open something else; follows its rules. */
	| { kind: 'may-open'; resourceId: string };

/** `count` calendar units; 0 means at once. */
export interface Steps {
	count: number;
	unit: CalendarUnit;
}

export type Opens = { kind: 'at-once' } | ({ kind: 'after' } & Steps) | { kind: 'on'; at: Instant };
/** A closing step counts from the opening. */
export type Closes = { kind: 'never' } | ({ kind: 'after' } & Steps) | { kind: 'on'; at: Instant };

export interface Window {
	opens: Opens;
	closes: Closes;
}

/** Said explicitly: the site's default, no limit, or one of its own. */
export type Limit<T> = 'site' | 'none' | T;

export interface UseLimit {
	count: number;
	/** What the count begins anew with: each paid period, or each grant, which is one for each purchase. */
	per: 'period' | 'grant';
}

export interface Limits {
	uses: Limit<UseLimit>;
	/** Minutes for which one may look since the first opening. */
	minutes: Limit<number>;
	/** Hours for which it can be opened at all since the purchase. */
	hours: Limit<number>;
}

/** What `'site'` stands for. */
export interface SiteLimits {
	uses: UseLimit | 'none';
	minutes: number | 'none';
	hours: number | 'none';
}

export interface Crossing {
	id: string;
	audience: Audience;
	/** `null`: open for as long as the audience is met; it does not compete with releases. */
	window: Window | null;
	limits: Limits;
	/** Holds inside every fence within, unless that one seals. */
	isThroughout: boolean;
}

export const NO_LIMITS: Limits = { uses: 'none', minutes: 'none', hours: 'none' };

/** Why somebody is turned away, for the words they need. In order of precedence. */
export const STANDINGS = ['used-up', 'too-early', 'over', 'lapsed', 'without-plan', 'stranger'] as const;
export type Standing = (typeof STANDINGS)[number];

export type Answer =
	| { kind: 'notice'; text: RichText }
	/** `to` is a path of the site; `/sign-in` remembers where the viewer wanted to go. */
	| { kind: 'sent'; to: string }
	| { kind: 'absent' };

export type Teaser =
	{ kind: 'nothing' } | { kind: 'paragraphs'; count: number } | { kind: 'seconds'; count: number };

/** What those who may not cross get. */
export interface TurnAway {
	answer: Answer;
	/** Words or a target of their own for single cases. */
	cases: Partial<Record<Standing, Answer>>;
	teaser: Teaser;
}

export type Selector =
	/** Picked by hand: one, or several. */
	| { kind: 'items'; itemIds: string[] }
	/** Everything that lives in a collection or below a page; `extensions` narrows to files, none means all. */
	| { kind: 'within'; collectionId: string; withPage: boolean; extensions: string[] }
	| { kind: 'category'; categoryId: string }
	| { kind: 'tag'; tagId: string }
	| { kind: 'kind'; itemKind: ResourceKind }
	| (OnSite & { kind: 'path'; path: string })
	| (OnSite & { kind: 'below'; path: string })
	| (OnSite & { kind: 'containing'; text: string })
	/** RE2 syntax; anchored or not as written. */
	| (OnSite & { kind: 'pattern'; pattern: string })
	| (OnSite & { kind: 'everything' });

/** Addresses are those of one site. */
interface OnSite {
	/** Left out: Stile's own. */
	siteId?: string;
}

export const SELECTOR_KINDS = [
	'items',
	'within',
	'category',
	'tag',
	'kind',
	'path',
	'below',
	'containing',
	'pattern',
	'everything'
] as const satisfies readonly Selector['kind'][];

export const FENCE_MODES = ['adds', 'replaces', 'seals'] as const;
/**
 * `adds` brings crossings and closes nothing; `replaces` closes to all but its own crossings and those of wider fences
 * that hold throughout; `seals` ignores those too.
 */
export type FenceMode = (typeof FENCE_MODES)[number];

export interface Fence {
	id: string;
	name: string;
	isOn: boolean;
	mode: FenceMode;
	selector: Selector;
	crossings: Crossing[];
	/** `null`: the site's default. */
	turnAway: TurnAway | null;
	/** Whether lists show what it closes, with its mark, or leave it out. */
	listing: 'shown' | 'left-out';
	createdAt: Instant;
}

/** An item's window for a plan's holders, or that of everything within a collection or category. */
export interface Release {
	id: string;
	planId: string;
	target: { kind: 'resource'; id: string } | { kind: 'category'; id: string };
	window: Window;
}

export interface AccessPlan {
	id: string;
	/** Listed on the plan page and named in notices. */
	isPublic: boolean;
	/** Can be bought now. */
	isOnSale: boolean;
	ladderId: string | null;
	/** From the lowest, 0; meaningless without a ladder. */
	rung: number;
	/** What a tenure does after a lapse. */
	afterLapse: AfterLapse;
	/** Shown and sold only to whoever may open this resource; left out: to everybody. */
	soldTo?: string;
	/** What is bought before this day begins on it; left out: when it is bought. */
	firstDay?: Instant;
	/** Given to every account that is made from a moment on, for as long as the plan opens; left out: to none. */
	given?: { since: Instant; access: PlanAccess };
}

/** On, as if never away; stand still while lapsed; or anew, from the day of coming back. */
export type AfterLapse = 'on' | 'stand-still' | 'anew';

/** Everything that decides, apart from who asks. Compiled once, see `compile`. */
export interface PolicySource {
	resources: Resource[];
	fences: Fence[];
	plans: AccessPlan[];
	releases: Release[];
	turnAway: TurnAway;
	limits: SiteLimits;
	/** The publisher's. Calendar steps are taken in it. */
	zone: string;
	/** Hour of the day at which releases open; `null`: the time of day at which somebody joined. */
	releaseHour: number | null;
	/** A gap between grants of fewer days is no lapse. */
	lapseAfterDays: number;
}

export type GrantSource =
	'order' | 'subscription' | 'gift' | 'seat' | 'outside' | 'hand' | 'import' | 'sign-up' | 'code';

/** A dated right of one member to one plan, `[from, until)`, cut short at `revokedAt`. */
export interface Grant {
	id: string;
	planId: string;
	from: Instant;
	until: Instant | null;
	revokedAt: Instant | null;
	source: GrantSource;
	/** Expected to go on after `until`: its subscription renews. */
	renews: boolean;
	/** Length of its paid periods, counted from `from`; `null` where it was not bought by the period. */
	period: Steps | null;
}

/** When a member first joined a plan. */
export interface Tenure {
	planId: string;
	firstJoinedAt: Instant;
	/** Set by the publisher: it counts whatever the grants say. */
	isSetByHand: boolean;
}

export interface Redemption {
	batchId: string;
	at: Instant;
}

export type Viewer =
	/** Strangers may have redeemed codes on this device. `grants`: of plans that these gave. */
	| { kind: 'stranger'; redemptions: readonly Redemption[]; grants: readonly Grant[] }
	| {
			kind: 'member';
			id: string;
			isStaff: boolean;
			/** When the account was made. */
			since: Instant;
			grants: readonly Grant[];
			tenures: readonly Tenure[];
			redemptions: readonly Redemption[];
			namings: readonly Naming[];
	  };

/** Who has nothing. */
export const STRANGER: Viewer = { kind: 'stranger', redemptions: [], grants: [] };

export type Member = Extract<Viewer, { kind: 'member' }>;

/** One counted opening of the resource that is decided. */
export interface Use {
	/** The grant it was counted on; `null` where nobody's grant let it through. */
	grantId: string | null;
	at: Instant;
	/** Until then the same use goes on, and is not refused by the limit that it reached. */
	goesOnUntil: Instant;
}

/** What of the request counts beside who asks. */
export interface Context {
	/** The viewer's uses of the resource, oldest first. */
	uses: readonly Use[];
	/** Uses that the publisher gave on top of the limit: each counts where its moment lies. */
	gifts: readonly UseGift[];
	/** Set where the viewer comes from a place that is blocked. */
	keptOut: 'country' | 'network' | null;
}

export interface UseGift {
	count: number;
	at: Instant;
}

export const NO_CONTEXT: Context = { uses: [], gifts: [], keptOut: null };
