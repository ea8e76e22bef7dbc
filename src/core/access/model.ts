/** The facts that a decision is made from, and the decision. Plain data: it can be stored, sent and compared. */
import type { Instant } from '../time/instant';

export const ITEM_KINDS = ['video', 'audio', 'file', 'page', 'lesson', 'episode', 'event', 'link'] as const;
export type ItemKind = (typeof ITEM_KINDS)[number];

export const ITEM_STATES = ['draft', 'published', 'scheduled', 'archived'] as const;
export type ItemState = (typeof ITEM_STATES)[number];

export interface AccessItem {
	id: string;
	kind: ItemKind;
	state: ItemState;
	/** When a scheduled item becomes published; `null` in every other state. */
	publishAt: Instant | null;
	/** Whether the item is open or closed when no fence speaks. */
	base: 'open' | 'closed';
	/** Normalised path. */
	address: string;
}

export type Audience = { kind: 'anyone' } | { kind: 'signed-in' } | { kind: 'holders'; planIds: string[] };

export interface Crossing {
	id: string;
	audience: Audience;
}

export type TurnAway =
	| { kind: 'notice'; text: string }
	/** `to` is a path of the site; `/sign-in` remembers where the viewer wanted to go. */
	| { kind: 'sent'; to: string }
	| { kind: 'absent' };

/** What a fence catches. */
export type Selector = { kind: 'items'; itemIds: string[] };

export interface Fence {
	id: string;
	name: string;
	isOn: boolean;
	/** `adds` brings crossings and closes nothing; `replaces` closes to all but its own crossings. */
	mode: 'adds' | 'replaces';
	selector: Selector;
	crossings: Crossing[];
	/** `null`: the site's default. */
	turnAway: TurnAway | null;
	createdAt: Instant;
}

export interface AccessPlan {
	id: string;
	/** Listed on the plan page and named in notices. */
	isPublic: boolean;
	/** Can be bought now. */
	isOnSale: boolean;
}

/** Everything that decides, apart from who asks. Compiled once, see `compile`. */
export interface PolicySource {
	items: AccessItem[];
	fences: Fence[];
	plans: AccessPlan[];
	defaultTurnAway: TurnAway;
}

export type GrantSource = 'order' | 'subscription' | 'hand' | 'import' | 'sign-up';

/** A dated right of one member to one plan, `[from, until)`, cut short at `revokedAt`. */
export interface Grant {
	id: string;
	planId: string;
	from: Instant;
	until: Instant | null;
	revokedAt: Instant | null;
	source: GrantSource;
}

export type Viewer =
	{ kind: 'stranger' } | { kind: 'member'; id: string; isStaff: boolean; grants: readonly Grant[] };

/** In order of precedence. */
export const VERDICTS = ['kept-out', 'open', 'used-up', 'opens-later', 'over', 'shut'] as const;
export type Verdict = (typeof VERDICTS)[number];

/** One step of the why. Codes only; `src/ui/wording` turns them into sentences. */
export type Step =
	| { code: 'staff' }
	| { code: 'no-such-item' }
	| { code: 'draft' }
	| { code: 'archived' }
	| { code: 'not-published-yet'; at: Instant }
	| { code: 'fence-off'; fenceId: string }
	| { code: 'crossed-as-anyone'; fenceId: string; crossingId: string }
	| { code: 'crossed-signed-in'; fenceId: string; crossingId: string }
	| {
			code: 'crossed-by-grant';
			fenceId: string;
			crossingId: string;
			planId: string;
			grantId: string;
			until: Instant | null;
	  }
	| { code: 'not-signed-in'; fenceId: string }
	| { code: 'no-grant'; fenceId: string; planIds: string[] }
	| { code: 'grant-not-begun'; fenceId: string; planId: string; grantId: string; at: Instant }
	| { code: 'grant-ended'; fenceId: string; planId: string; grantId: string; at: Instant; revoked: boolean }
	| { code: 'no-crossing'; fenceId: string }
	| { code: 'base-open' }
	| { code: 'base-closed' };

/** Why somebody is turned away, for the words they need. In order of precedence. */
export type Standing = 'too-early' | 'lapsed' | 'without-plan' | 'stranger';

export type Decision =
	| { verdict: 'open'; steps: Step[]; until: Instant | null }
	| {
			verdict: Exclude<Verdict, 'open'>;
			steps: Step[];
			/** The first moment at which the answer may change without any event; `null` when there is none. */
			until: Instant | null;
			turnAway: TurnAway;
			standing: Standing;
			/** Plans on public sale that would open it. */
			openedBy: string[];
			/** When a grant that the viewer already has will open it. */
			opensAt: Instant | null;
	  };
