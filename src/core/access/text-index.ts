/**
 * Finds which of many texts a path contains, in one pass over the path however many there are (Aho and Corasick, "Efficient
 * string matching", Communications of the ACM 18, 1975).
 *
 * Example: of `/clock`, `lock/` and `wheel`, the path `/clock/wheels` contains all three.
 *
 * States are numbers, and what is known of each stands in flat tables: state 0 has read nothing; the edges that lead on
 * from state `s` are those from `edges[s]` up to `edges[s + 1]`, and edge `e` leads to state `e + 1`.
 */
interface Tables<T> {
	edges: Int32Array;
	/** Of each edge: its character. */
	codes: Uint16Array;
	/** From state 0, by character: most of a path begins nothing, and is told here. */
	first: Int32Array;
	/** Of each state: that of the longest proper end of what was read that begins a text. */
	fallback: Int32Array;
	/** Of each state: itself or the nearest along the fallbacks at which a text ends, 0 for none. */
	ending: Int32Array;
	/** Of each state: the values of the texts that end there. */
	values: (T[] | undefined)[];
}

const TEXTS_AT_ONCE = 200;
const STATES_AT_ONCE = 5000;

export class TextIndex<T> {
	private constructor(
		private readonly tables: Tables<T> | null,
		/** Those of the empty text: every path contains it. */
		private readonly always: readonly T[]
	) {}

	static empty<T>(): TextIndex<T> {
		return new TextIndex<T>(null, []);
	}

	/** Built in pieces: between two of them others may go on. */
	static *building<T>(entries: readonly { text: string; value: T }[]): Generator<void, TextIndex<T>> {
		const always = entries.filter(({ text }) => text === '').map(({ value }) => value);
		const texts = entries.filter(({ text }) => text !== '');
		if (texts.length === 0) return new TextIndex<T>(null, always);
		const tree = yield* treeOf(texts);
		return new TextIndex<T>(yield* tablesOf(tree), always);
	}

	/** The values of all texts that `path` contains, each once. */
	within(path: string): readonly T[] {
		const { tables } = this;
		if (!tables) return this.always;
		const { edges, codes, first, fallback, ending } = tables;
		let found: Set<T> | null = null;
		let at = 0;
		for (let i = 0; i < path.length; i++) {
			const char = path.charCodeAt(i);
			let next = 0;
			while (at !== 0 && next === 0) {
				next = onward(edges, codes, at, char);
				if (next === 0) at = fallback[at] as number;
			}
			at = next === 0 ? (first[char] ?? 0) : next;
			if (ending[at] !== 0) found = this.collect(at, found);
		}
		if (!found) return this.always;
		return [...this.always, ...found];
	}

	private collect(from: number, found: Set<T> | null): Set<T> {
		const known = found ?? new Set<T>();
		const { ending, fallback, values } = this.tables as Tables<T>;
		for (let at = ending[from] as number; at !== 0; at = ending[fallback[at] as number] as number)
			for (const value of values[at] ?? []) known.add(value);
		return known;
	}
}

/** A state while the tree of texts grows. */
interface Growing<T> {
	next: Map<number, Growing<T>>;
	values: T[];
}

function* treeOf<T>(texts: readonly { text: string; value: T }[]): Generator<void, Growing<T>> {
	const root: Growing<T> = { next: new Map(), values: [] };
	for (const [n, { text, value }] of texts.entries()) {
		let at = root;
		for (let i = 0; i < text.length; i++) {
			const char = text.charCodeAt(i);
			let next = at.next.get(char);
			if (!next) at.next.set(char, (next = { next: new Map(), values: [] }));
			at = next;
		}
		at.values.push(value);
		if (n % TEXTS_AT_ONCE === TEXTS_AT_ONCE - 1) yield;
	}
	return root;
}

/** Numbers the states nearest first, so that a state's fallback is known before its own edges are followed. */
function* tablesOf<T>(root: Growing<T>): Generator<void, Tables<T>> {
	const states = [root];
	const parents = [0];
	const codes: number[] = [];
	const edges: number[] = [];
	for (let n = 0; n < states.length; n++) {
		edges.push(codes.length);
		for (const [char, next] of states[n]?.next ?? []) {
			states.push(next);
			parents.push(n);
			codes.push(char);
		}
		if (n % STATES_AT_ONCE === STATES_AT_ONCE - 1) yield;
	}
	edges.push(codes.length);
	const tables: Tables<T> = {
		edges: Int32Array.from(edges),
		codes: Uint16Array.from(codes),
		first: new Int32Array(Math.max(...root.next.keys()) + 1),
		fallback: new Int32Array(states.length),
		ending: new Int32Array(states.length),
		values: states.map(({ values }) => (values.length > 0 ? values : undefined))
	};
	for (let edge = 0; edge < root.next.size; edge++) tables.first[codes[edge] as number] = edge + 1;
	for (let n = 1; n < states.length; n++) {
		let back = parents[n] as number;
		let found = 0;
		while (back !== 0 && found === 0) {
			back = tables.fallback[back] as number;
			found = onward(tables.edges, tables.codes, back, codes[n - 1] as number);
		}
		tables.fallback[n] = found;
		tables.ending[n] = tables.values[n] ? n : (tables.ending[found] as number);
		if (n % STATES_AT_ONCE === STATES_AT_ONCE - 1) yield;
	}
	return tables;
}

/** The state that a character leads to from another; 0 where none does. */
function onward(edges: Int32Array, codes: Uint16Array, from: number, char: number): number {
	const end = edges[from + 1] as number;
	for (let edge = edges[from] as number; edge < end; edge++) if (codes[edge] === char) return edge + 1;
	return 0;
}
