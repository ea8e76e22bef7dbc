/**
 * Moving things in an outline by the keyboard: one row up or down, into the home beside, or out of one's own.
 *
 * Example: the first lesson of section B, moved up, is the last one of section A. So what stands alone between two sections
 * goes into one of them by one press, and is put there again by dragging.
 */
import type { ResourceKind } from '../access/model';
import { canLiveIn } from './homes';
import type { Outlined } from './outline';
import { placedAfter } from './order';

export interface Moved {
	id: string;
	kind: ResourceKind;
}

/** Where something is put: after one of what lives there, `null` before all of it. */
export interface Spot {
	homeId: string;
	after: string | null;
}

export type Direction = 'up' | 'down' | 'inward' | 'outward';

/** Where one stands: its home, what stands beside it, and the same of its home; the outline's own home has none. */
interface Place<T> {
	node: Outlined<T>;
	at: number;
	siblings: readonly Outlined<T>[];
	home: { id: string; kind: ResourceKind; place: Place<T> | null };
}

function placeOf<T extends Moved>(
	siblings: readonly Outlined<T>[],
	home: Place<T>['home'],
	id: string
): Place<T> | null {
	for (const [at, node] of siblings.entries()) {
		const place = { node, at, siblings, home };
		if (node.entry.id === id) return place;
		const inside = placeOf(node.inside, { ...node.entry, place }, id);
		if (inside) return inside;
	}
	return null;
}

const lastOf = <T extends Moved>(nodes: readonly Outlined<T>[]): string | null =>
	nodes.at(-1)?.entry.id ?? null;

/**
 * @param root what the outline is of
 * @returns `null` where there is no such place
 */
export function movedTo<T extends Moved>(
	tree: readonly Outlined<T>[],
	root: Moved,
	id: string,
	direction: Direction
): Spot | null {
	const place = placeOf(tree, { ...root, place: null }, id);
	if (!place) return null;
	const { kind } = place.node.entry;
	const taking: Taking<T> = (node) => (node && canLiveIn(kind, node.entry.kind) ? node : null);
	const { at, siblings, home } = place;
	const own = (n: number): string | null => siblings[n]?.entry.id ?? null;
	const [before, next] = [siblings[at - 1], siblings[at + 1]];
	const above = taking(before);
	const below = taking(next);
	const out = home.place;
	const mayOut = out !== null && canLiveIn(kind, out.home.kind);
	switch (direction) {
		case 'up':
			if (above) return { homeId: above.entry.id, after: lastOf(above.inside) };
			if (before) return { homeId: home.id, after: own(at - 2) };
			return beforeHome(out, taking, mayOut);
		case 'down':
			if (below) return { homeId: below.entry.id, after: null };
			if (next) return { homeId: home.id, after: next.entry.id };
			return afterHome(out, taking, mayOut);
		case 'inward':
			if (above) return { homeId: above.entry.id, after: lastOf(above.inside) };
			return nextHome(out, taking);
		case 'outward':
			return mayOut ? { homeId: out.home.id, after: home.id } : null;
	}
}

/** The same where what is moved can live in it. */
type Taking<T> = (node: Outlined<T> | undefined) => Outlined<T> | null;

/** At the end of the home above its own, or right before its own. */
function beforeHome<T extends Moved>(out: Place<T> | null, taking: Taking<T>, mayOut: boolean): Spot | null {
	if (!out) return null;
	const before = out.siblings[out.at - 1];
	const above = taking(before);
	if (above) return { homeId: above.entry.id, after: lastOf(above.inside) };
	return mayOut ? { homeId: out.home.id, after: before?.entry.id ?? null } : null;
}

/** At the beginning of the home below its own, or right after its own. */
function afterHome<T extends Moved>(out: Place<T> | null, taking: Taking<T>, mayOut: boolean): Spot | null {
	return nextHome(out, taking) ?? (out && mayOut ? { homeId: out.home.id, after: out.node.entry.id } : null);
}

function nextHome<T extends Moved>(out: Place<T> | null, taking: Taking<T>): Spot | null {
	const below = taking(out?.siblings[(out?.at ?? 0) + 1]);
	return below ? { homeId: below.entry.id, after: null } : null;
}

/** The outline with one of its things somewhere else, and all that is in it. What is not there changes nothing. */
export function withMoved<T extends Moved>(
	tree: readonly Outlined<T>[],
	rootId: string,
	id: string,
	{ homeId, after }: Spot
): Outlined<T>[] {
	const taken = placeOf(tree, { id: rootId, kind: 'course', place: null }, id)?.node;
	if (!taken) return [...tree];
	const put = (nodes: readonly Outlined<T>[], home: string): Outlined<T>[] => {
		const others = nodes.filter(({ entry }) => entry.id !== id);
		const byId = new Map([...others, taken].map((node) => [node.entry.id, node]));
		const order = others.map(({ entry }) => entry.id);
		return (home === homeId ? placedAfter(order, id, after) : order)
			.flatMap((one) => byId.get(one) ?? [])
			.map((node) => (node === taken ? node : { ...node, inside: put(node.inside, node.entry.id) }));
	};
	return put(tree, rootId);
}
