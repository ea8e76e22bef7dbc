/** The release board: what opens when for somebody who joins a plan at a moment, with what is not kept yet. */
import type { BoardWindow } from '$core/access/board-view';
import { comparingSources } from '$core/access/delta';
import { idleReleases, pagesIn, type Idle } from '$core/access/idle-releases';
import type { PolicySource, ResourceKind, Window } from '$core/access/model';
import { newcomer } from '$core/access/newcomers';
import type { Policy } from '$core/access/policy';
import { spanOf, type Span } from '$core/access/release-bars';
import { timeline } from '$core/access/timeline';
import { HOLDERS } from '$core/library/homes';
import { inOrder } from '$core/library/outline';
import { libraryRows } from '$core/library/rows';
import { readLocal } from '$core/time/calendar';
import type { Instant } from '$core/time/instant';
import type { Using } from '../../app';
import type { LibraryItem } from '../../db/queries/library';
import { inPieces } from '../../in-pieces';
import { withReleases, type ReleaseWish } from '../../rights/releases';
import { shownRows } from '../../rights/shown';
import { asOf, type AsOf } from './as-of';
import { titlesFound } from './library-rows';
import { insideOf } from './outline';
import { planNames } from './plans';

/** Of a section, so many things are looked at. */
const MOST_INSIDE = 30;

export interface BoardAsk {
	plan: string | null;
	compare: string | null;
	/** A typed moment of the publisher's clocks. */
	joined: string | null;
	/** One collection alone. */
	within: string | null;
	search: string;
	/** Only what has a release of its own. */
	isReleased: boolean;
	isFolded: (id: string) => boolean;
}

interface Board {
	moment: AsOf;
	plans: { id: string; name: string }[];
	planId: string | null;
	compareId: string | null;
	joinedAt: Instant;
	/** As kept, and with what is not. */
	kept: Policy;
	tried: Policy;
}

type Apps = Using<'clock' | 'db' | 'rights' | 'site'>;

/** What stands around the rows, and the first of them. */
export async function releaseBoard(app: Apps, ask: BoardAsk, url: URL, count: number) {
	const board = await boardOf(app, ask, url, []);
	const { moment, plans, planId, compareId, joinedAt } = board;
	const idle = planId === null ? new Map<string, Idle>() : idleReleases(board.kept, planId);
	const all = await shownRows(app);
	return {
		moment,
		plans,
		planId,
		compareId,
		joinedAt,
		within: all.find(({ id }) => id === ask.within)?.title ?? null,
		/** How many releases count nowhere, by what would mend it. */
		idle: {
			'not-let-in': countOf(idle, 'not-let-in'),
			'open-anyway': countOf(idle, 'open-anyway')
		},
		first: await rowsOf(app, board, ask, 0, count)
	};
}

/** Rows from one on, as they would be once `wishes` are kept. */
export async function boardWindow(
	app: Apps,
	ask: BoardAsk,
	url: URL,
	wishes: readonly ReleaseWish[],
	from: number,
	count: number
): Promise<BoardWindow> {
	return rowsOf(app, await boardOf(app, ask, url, wishes), ask, from, count);
}

/** What lives in a collection, in its order, each with its release: for whoever lays it out. */
export async function releasesInside(app: Using<'db' | 'rights'>, collectionId: string, planId: string) {
	const own = ownOf((await app.rights.policy()).source, planId);
	const inside = await insideOf(app);
	return inOrder(inside(collectionId)).map(({ id, kind }) => ({ id, kind, own: own.get(id) ?? null }));
}

/** Whatever has a release for a plan that counts nowhere, and could be fenced for it. */
export async function itemsOfIdle(app: Using<'rights'>, planId: string, why: Idle): Promise<string[]> {
	const policy = await app.rights.policy();
	const idle = [...idleReleases(policy, planId)].filter(([, one]) => one === why);
	return pagesIn(
		policy,
		idle.map(([id]) => id)
	);
}

async function boardOf(app: Apps, ask: BoardAsk, url: URL, wishes: readonly ReleaseWish[]): Promise<Board> {
	const { zone } = await app.site();
	const { moment, policy: kept } = await asOf(app, url);
	const plans = await planNames(app);
	const planId = plans.find(({ id }) => id === ask.plan)?.id ?? plans[0]?.id ?? null;
	const compareId = plans.find(({ id }) => id === ask.compare && id !== planId)?.id ?? null;
	const read = ask.joined ? readLocal(ask.joined, zone) : null;
	const joinedAt = read?.ok ? read.at : moment.now;
	const tried = planId === null || wishes.length === 0 ? kept : await trying(kept, planId, wishes);
	return { moment, plans, planId, compareId, joinedAt, kept, tried };
}

async function trying(kept: Policy, planId: string, wishes: readonly ReleaseWish[]): Promise<Policy> {
	const known = wishes.filter(({ target }) => kept.resources.has(target.id));
	const { source } = kept;
	const delta = await inPieces(comparingSources(source, withReleases(planId, known)(source)));
	return inPieces(kept.refiling(delta));
}

async function rowsOf(
	app: Apps,
	{ planId, compareId, joinedAt, kept, tried }: Board,
	{ within, search, isReleased, isFolded }: BoardAsk,
	from: number,
	count: number
): Promise<BoardWindow> {
	const all = (await shownRows(app)).filter(({ state }) => state !== 'archived');
	const inside =
		within === null ? null : new Set([within, ...inOrder((await insideOf(app))(within)).map(({ id }) => id)]);
	const items = inside ? all.filter(({ id }) => inside.has(id)) : all;
	const released = ownOf(tried.source, planId);
	const own = ownOf(kept.source, planId);
	const found = search === '' ? null : await titlesFound(app, search);
	const isLookedFor = (id: string) =>
		(found?.has(id) ?? true) && (!isReleased || released.has(id) || own.has(id));
	const rows = libraryRows(items, {
		order: 'place',
		isDescending: false,
		unfolded: { has: (id) => !isFolded(id) },
		isFound: found === null && !isReleased ? null : isLookedFor
	});
	const idle = planId === null ? new Map<string, Idle>() : idleReleases(tried, planId);
	const { zone } = await app.site();
	const byId = new Map(items.map((item) => [item.id, item]));
	const openFor = (plan: string | null, id: string): Span[] =>
		plan === null
			? []
			: timeline(tried, newcomer(plan, joinedAt), id, joinedAt, null, 'renewals-go-on')
					.filter(({ verdict }) => verdict === 'open')
					.map(({ start, end }) => ({ start, end }));
	/** What a release of a collection is for lives in it; a section has no page that could be open. */
	const openOf = (plan: string | null, { id, kind }: LibraryItem): Span[] => {
		const window = plan === planId && !idle.has(id) ? released.get(id) : undefined;
		if (window && isGroup(kind)) return [spanOf(window, { joinedAt, unit: 'week', zone })];
		if (kind !== 'section') return openFor(plan, id);
		const inside = pagesIn(tried, [id]).slice(0, MOST_INSIDE);
		return allOf(inside.flatMap((one) => openFor(plan, one)));
	};
	return {
		rows: rows.slice(from, from + count).flatMap((row) => {
			const item = byId.get(row.id);
			if (!item) return [];
			return {
				...row,
				title: item.title,
				kind: item.kind,
				own: own.get(row.id) ?? null,
				open: openOf(planId, item),
				compared: compareId === null ? null : openOf(compareId, item),
				idle: idle.get(row.id) ?? null
			};
		}),
		total: rows.length
	};
}

const isGroup = (kind: ResourceKind) => HOLDERS.has(kind) && kind !== 'page';

/** From the first that opens to the last that closes. */
function allOf(spans: readonly Span[]): Span[] {
	if (spans.length === 0) return [];
	const ends = spans.flatMap(({ end }) => end ?? []);
	return [
		{
			start: Math.min(...spans.map(({ start }) => start)),
			end: ends.length < spans.length ? null : Math.max(...ends)
		}
	];
}

/** Windows of a plan's releases, by what they are of. */
function ownOf({ releases }: PolicySource, planId: string | null): Map<string, Window> {
	return new Map(
		releases.flatMap(({ planId: of, target, window }) =>
			of === planId && target.kind === 'resource' ? [[target.id, window] as const] : []
		)
	);
}

function countOf(idle: ReadonlyMap<string, Idle>, why: Idle): number {
	return [...idle.values()].filter((one) => one === why).length;
}
