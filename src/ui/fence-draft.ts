/** A fence while it is edited: every field has a value, so that switching between choices loses nothing that was typed. */
import type { CalendarUnit } from '$core/time/calendar';
import { writeLocal } from '$core/time/calendar';
import type {
	Answer,
	Audience,
	Closes,
	Fence,
	Limit,
	Limits,
	NamedMember,
	Opens,
	Selector,
	Standing,
	TurnAway,
	UseLimit,
	Window
} from '$core/access/model';
import type { RichText } from '$core/text/rich-text';

interface EdgeDraft<Kind extends string> {
	kind: Kind;
	count: string;
	unit: CalendarUnit;
	local: string;
}

export interface WindowDraft {
	opens: EdgeDraft<'at-once' | 'after' | 'on'>;
	closes: EdgeDraft<'never' | 'after' | 'on'>;
}

export function windowDraft(window: Window | null, zone: string): WindowDraft {
	const opens = window?.opens ?? { kind: 'at-once' };
	const closes = window?.closes ?? { kind: 'never' };
	return {
		opens: { ...edge(opens, zone), kind: opens.kind },
		closes: { ...edge(closes, zone), kind: closes.kind }
	};
}

function edge(of: Opens | Closes, zone: string) {
	return {
		count: of.kind === 'after' ? String(of.count) : '1',
		unit: of.kind === 'after' ? of.unit : ('week' as CalendarUnit),
		local: of.kind === 'on' ? writeLocal(of.at, zone) : ''
	};
}

type LimitKind = 'site' | 'none' | 'own';

export interface LimitsDraft {
	uses: { kind: LimitKind; count: string; per: UseLimit['per'] };
	minutes: { kind: LimitKind; count: string };
	hours: { kind: LimitKind; count: string };
}

export function limitsDraft(limits: Limits): LimitsDraft {
	const amount = (limit: Limit<number>) => ({
		kind: typeof limit === 'number' ? ('own' as const) : limit,
		count: typeof limit === 'number' ? String(limit) : ''
	});
	const { uses } = limits;
	return {
		uses:
			typeof uses === 'string'
				? { kind: uses, count: '5', per: 'period' }
				: { kind: 'own', count: String(uses.count), per: uses.per },
		minutes: amount(limits.minutes),
		hours: amount(limits.hours)
	};
}

export function sentLimits({ uses, minutes, hours }: LimitsDraft) {
	return {
		uses: uses.kind === 'own' ? { count: uses.count, per: uses.per } : uses.kind,
		minutes: minutes.kind === 'own' ? minutes.count : minutes.kind,
		hours: hours.kind === 'own' ? hours.count : hours.kind
	};
}

export interface CrossingDraft {
	key: number;
	audience: Audience;
	/** Whoever was named just now has no day yet. */
	named: { memberId: string; since?: number }[];
	window: WindowDraft;
	limits: LimitsDraft;
	isThroughout: boolean;
}

export interface SelectorDraft {
	kind: Selector['kind'];
	itemIds: string[];
	collectionId: string;
	withPage: boolean;
	extensions: string;
	categoryId: string;
	tagId: string;
	itemKind: string;
	path: string;
	text: string;
	pattern: string;
}

export function selectorDraft(selector: Selector): SelectorDraft {
	const empty: SelectorDraft = {
		kind: selector.kind,
		itemIds: [],
		collectionId: '',
		withPage: true,
		extensions: '',
		categoryId: '',
		tagId: '',
		itemKind: 'video',
		path: '',
		text: '',
		pattern: ''
	};
	return selector.kind === 'within'
		? { ...empty, ...selector, extensions: selector.extensions.join(', ') }
		: { ...empty, ...selector };
}

export function sentSelector(draft: SelectorDraft) {
	return { ...draft, extensions: draft.extensions.split(/[\s,]+/).filter((one) => one !== '') };
}

/** What a fence as it stands in the editor would do, as the server says. */
export interface FencePreview {
	/** Why it cannot be said. */
	message: string | null;
	/** The part of the pattern that this is about. */
	mark: { at: number; length: number } | null;
	items: { id: string; title: string; kind: string; address: string | null; isNew: boolean }[];
	lost: { id: string; title: string }[];
	total: number;
	findings: { text: string; href: string | null }[];
	/** Wider fences that catch some of the same, each with an example. */
	meets: { id: string; name: string; example: string; count: number }[];
	tested: string | null;
}

export interface AnswerDraft {
	kind: Answer['kind'];
	text: RichText;
	to: string;
}

export function answerDraft(answer: Answer): AnswerDraft {
	return {
		kind: answer.kind,
		text: answer.kind === 'notice' ? answer.text : [],
		to: answer.kind === 'sent' ? answer.to : '/sign-in'
	};
}

export interface TurnAwayDraft {
	answer: AnswerDraft;
	cases: Partial<Record<Standing, AnswerDraft>>;
	teaser: { kind: 'nothing' | 'paragraphs' | 'seconds'; count: string };
}

export function turnAwayDraft(turnAway: TurnAway): TurnAwayDraft {
	const { answer, cases, teaser } = turnAway;
	return {
		answer: answerDraft(answer),
		cases: Object.fromEntries(Object.entries(cases).map(([standing, own]) => [standing, answerDraft(own)])),
		teaser: { kind: teaser.kind, count: teaser.kind === 'nothing' ? '1' : String(teaser.count) }
	};
}

export interface FenceDraft {
	name: string;
	isOn: boolean;
	mode: Fence['mode'];
	listing: Fence['listing'];
	selector: SelectorDraft;
	crossings: CrossingDraft[];
	hasOwnTurnAway: boolean;
	turnAway: TurnAwayDraft;
}

let keys = 0;

export function crossingDraft(
	audience: Audience,
	zone: string,
	own: Partial<Fence['crossings'][number]> & Partial<Pick<CrossingDraft, 'named'>> = {}
): CrossingDraft {
	return {
		key: ++keys,
		audience,
		named: own.named ?? [],
		window: windowDraft(own.window ?? null, zone),
		limits: limitsDraft(own.limits ?? { uses: 'none', minutes: 'none', hours: 'none' }),
		isThroughout: own.isThroughout ?? false
	};
}

export function fenceDraft(
	fence: Omit<Fence, 'id' | 'createdAt'>,
	named: readonly NamedMember[],
	siteTurnAway: TurnAway,
	zone: string
): FenceDraft {
	return {
		name: fence.name,
		isOn: fence.isOn,
		mode: fence.mode,
		listing: fence.listing,
		selector: selectorDraft(fence.selector),
		crossings: fence.crossings.map((crossing) =>
			crossingDraft(crossing.audience, zone, {
				...crossing,
				named: named.filter(({ crossingId }) => crossingId === crossing.id)
			})
		),
		hasOwnTurnAway: fence.turnAway !== null,
		turnAway: turnAwayDraft(fence.turnAway ?? siteTurnAway)
	};
}

/** What the editor sends. */
export function sentFence(draft: FenceDraft) {
	return {
		name: draft.name,
		isOn: draft.isOn,
		mode: draft.mode,
		listing: draft.listing,
		selector: sentSelector(draft.selector),
		crossings: draft.crossings.map(({ audience, named, window, limits, isThroughout }) => ({
			audience,
			named,
			window,
			limits: sentLimits(limits),
			isThroughout
		})),
		turnAway: draft.hasOwnTurnAway ? draft.turnAway : null
	};
}
