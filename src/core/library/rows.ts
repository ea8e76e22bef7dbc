/**
 * The Library as rows: things that live in others stand below them, folded away until somebody unfolds their home.
 *
 * Example: a course that is unfolded gives its own row, its sections one deeper, and the lessons of those that are unfolded.
 * Where something is looked for, what was found stands below its homes, all of them unfolded.
 */
import type { ItemState, ResourceKind } from '../access/model';

export const ROW_ORDERS = ['place', 'title', 'kind', 'state', 'length', 'changed'] as const;
export type RowOrder = (typeof ROW_ORDERS)[number];

/** What rows are laid out by. Titles compare as people read them, states from a draft to the archive. */
export interface Laid {
	id: string;
	title: string;
	kind: ResourceKind;
	state: ItemState;
	homeId: string | null;
	position: number;
	/** Of a film or recording. */
	seconds: number | null;
	createdAt: number;
	changedAt: number;
}

export interface RowsAsk {
	/** Whether it is looked for; left out: everything is. */
	isFound: ((id: string) => boolean) | null;
	unfolded: Pick<ReadonlySet<string>, 'has'>;
	order: RowOrder;
	isDescending: boolean;
}

export interface Row {
	id: string;
	/** 0 for what lives nowhere. */
	depth: number;
	/** How many things live in it: of those that were looked for, where something is. */
	inside: number;
	isUnfolded: boolean;
	/** It stands here for itself, and not only as the home of something. */
	isFound: boolean;
}

/** Deeper nesting is a circle. */
const MAX_DEPTH = 32;

/** From what is begun to what is put away. */
const LIFE: readonly ItemState[] = ['draft', 'scheduled', 'published', 'archived'];

const COLLATOR = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

/**
 * All rows in their order. Things whose home is not among them stand as if they lived nowhere.
 * Source: common practice for folders, no source.
 */
export function libraryRows<T extends Laid>(items: readonly T[], ask: RowsAsk): Row[] {
	const byId = new Map(items.map((item) => [item.id, item]));
	const shown = ask.isFound === null ? null : withHomes(items, byId, ask.isFound);
	const byHome = new Map<string | null, T[]>();
	for (const item of items) {
		if (shown !== null && !shown.has(item.id)) continue;
		const home = item.homeId !== null && byId.has(item.homeId) ? item.homeId : null;
		const inside = byHome.get(home);
		if (inside) inside.push(item);
		else byHome.set(home, [item]);
	}
	const compare = comparing(ask);
	const rows: Row[] = [];
	const lay = (home: string | null, depth: number) => {
		if (depth > MAX_DEPTH) return;
		for (const { id } of (byHome.get(home) ?? []).sort(home === null ? topmost(ask, compare) : compare)) {
			const inside = byHome.get(id)?.length ?? 0;
			const isUnfolded = inside > 0 && (shown !== null || ask.unfolded.has(id));
			rows.push({ id, depth, inside, isUnfolded, isFound: ask.isFound?.(id) ?? true });
			if (isUnfolded) lay(id, depth + 1);
		}
	};
	lay(null, 0);
	return rows;
}

/** What is found, and the homes in which it lives. */
function withHomes<T extends Laid>(
	items: readonly T[],
	byId: ReadonlyMap<string, T>,
	isFound: (id: string) => boolean
): Set<string> {
	const shown = new Set<string>();
	for (const item of items) {
		if (!isFound(item.id)) continue;
		let at: T | undefined = item;
		while (at && !shown.has(at.id)) {
			shown.add(at.id);
			at = at.homeId === null ? undefined : byId.get(at.homeId);
		}
	}
	return shown;
}

type Compare = (a: Laid, b: Laid) => number;

/** By what was asked for; what is alike in that stands in its own order. */
function comparing({ order, isDescending }: RowsAsk): Compare {
	const by = COMPARES[order];
	const direction = isDescending ? -1 : 1;
	return (a, b) => direction * by(a, b) || COMPARES.place(a, b);
}

/** What lives nowhere has no place of its own: the newest stands first. */
function topmost({ order, isDescending }: RowsAsk, compare: Compare): Compare {
	if (order !== 'place') return compare;
	return (a, b) => (isDescending ? -1 : 1) * (b.createdAt - a.createdAt) || byId(a, b);
}

const byId: Compare = (a, b) => (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);

const COMPARES: Record<RowOrder, Compare> = {
	place: (a, b) => a.position - b.position || a.createdAt - b.createdAt || byId(a, b),
	title: (a, b) => COLLATOR.compare(a.title, b.title),
	kind: (a, b) => COLLATOR.compare(a.kind, b.kind),
	state: (a, b) => LIFE.indexOf(a.state) - LIFE.indexOf(b.state),
	length: (a, b) => (a.seconds ?? -1) - (b.seconds ?? -1),
	changed: (a, b) => a.changedAt - b.changedAt
};
