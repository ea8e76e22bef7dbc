/**
 * A collection in the order in which it is gone through: its own things, and those of the sections and shelves in it.
 *
 * Example: a course with sections A (lessons 1, 2) and B (lesson 3) has the outline A[1, 2], B[3] and the order 1, 2, 3.
 */

export interface Listed {
	id: string;
	homeId: string | null;
	position: number;
}

export interface Outlined<T> {
	entry: T;
	inside: Outlined<T>[];
}

/** Deeper nesting is a circle. */
const MAX_DEPTH = 32;

/** Everything within, as a tree; things of one home by their position, then as they were given. */
export function outline<T extends Listed>(entries: readonly T[], rootId: string): Outlined<T>[] {
	return outlines(entries)(rootId);
}

/** The same for many roots: the entries are gone through once. */
export function outlines<T extends Listed>(entries: readonly T[]): (rootId: string) => Outlined<T>[] {
	const byHome = new Map<string, T[]>();
	for (const entry of entries) {
		if (entry.homeId === null) continue;
		const inside = byHome.get(entry.homeId);
		if (inside) inside.push(entry);
		else byHome.set(entry.homeId, [entry]);
	}
	for (const inside of byHome.values()) inside.sort((a, b) => a.position - b.position);
	const within = (rootId: string, depth: number): Outlined<T>[] =>
		depth > MAX_DEPTH
			? []
			: (byHome.get(rootId) ?? []).map((entry) => ({ entry, inside: within(entry.id, depth + 1) }));
	return (rootId) => within(rootId, 0);
}

/** The tree as one list, each thing before what is inside it. */
export function inOrder<T>(tree: readonly Outlined<T>[]): T[] {
	return tree.flatMap(({ entry, inside }) => [entry, ...inOrder(inside)]);
}
