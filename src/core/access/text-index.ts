/**
 * Finds which of many texts a path contains, in one pass over the path however many there are (Aho and Corasick, "Efficient
 * string matching", Communications of the ACM 18, 1975).
 *
 * Example: of `/clock`, `lock/` and `wheel`, the path `/clock/wheels` contains all three.
 */
interface State<T> {
	next: Map<number, State<T>>;
	/** The longest proper end of what was read that begins a text. */
	fallback: State<T> | null;
	/** Values of the texts that end here. */
	values: T[];
	/** The nearest state along the fallbacks at which a text ends. */
	further: State<T> | null;
}

const TEXTS_AT_ONCE = 200;
const STATES_AT_ONCE = 5000;

const state = <T>(): State<T> => ({ next: new Map(), fallback: null, values: [], further: null });

export class TextIndex<T> {
	private readonly root = state<T>();
	private isEmpty = true;
	/** The states after one character: most of a path begins nothing, and is told by this table. */
	private readonly first: (State<T> | undefined)[] = [];

	/** Built in pieces: between two of them others may go on. */
	static *building<T>(entries: readonly { text: string; value: T }[]): Generator<void, TextIndex<T>> {
		const index = new TextIndex<T>();
		index.isEmpty = entries.length === 0;
		for (const [n, { text, value }] of entries.entries()) {
			index.add(text, value);
			if (n % TEXTS_AT_ONCE === TEXTS_AT_ONCE - 1) yield;
		}
		yield* index.linking();
		return index;
	}

	/** The values of all texts that `path` contains, each once. */
	within(path: string): T[] {
		if (this.isEmpty) return [];
		const { root } = this;
		let found: Set<T> | null = root.values.length > 0 ? new Set(root.values) : null;
		let at = root;
		for (let i = 0; i < path.length; i++) {
			const code = path.charCodeAt(i);
			let next = at === root ? this.first[code] : at.next.get(code);
			while (!next && at.fallback) {
				at = at.fallback;
				next = at === root ? this.first[code] : at.next.get(code);
			}
			at = next ?? root;
			if (at.values.length === 0 && at.further === null) continue;
			found ??= new Set();
			for (let ending: State<T> | null = at; ending; ending = ending.further)
				for (const value of ending.values) found.add(value);
		}
		return found ? [...found] : [];
	}

	private add(text: string, value: T): void {
		let at = this.root;
		for (let i = 0; i < text.length; i++) {
			const code = text.charCodeAt(i);
			let next = at.next.get(code);
			if (!next) at.next.set(code, (next = state()));
			at = next;
		}
		at.values.push(value);
	}

	/** Nearest states first, so that a state's fallback is linked before its own. */
	private *linking(): Generator<void> {
		for (const [code, next] of this.root.next) this.first[code] = next;
		const queue = [...this.root.next.values()];
		for (const first of queue) first.fallback = this.root;
		for (let n = 0; n < queue.length; n++) {
			if (n % STATES_AT_ONCE === STATES_AT_ONCE - 1) yield;
			const at = queue[n];
			if (!at) continue;
			for (const [code, next] of at.next) {
				let fallback = at.fallback;
				while (fallback && !fallback.next.has(code)) fallback = fallback.fallback;
				next.fallback = fallback?.next.get(code) ?? this.root;
				next.further = next.fallback.values.length > 0 ? next.fallback : next.fallback.further;
				queue.push(next);
			}
		}
	}
}
