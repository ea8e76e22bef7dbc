/**
 * A map that can be changed without copying it: what changed lies over what was, and both maps stay as they are.
 *
 * Keys keep their place; new ones come last. Example: of 100,000 entries one is replaced; the map after it holds one entry
 * of its own and finds the others where they were.
 */

/** So many changes lie over a map, then it is written out once. */
const MOST_OVER = 1000;

export class LayeredMap<V extends object> implements ReadonlyMap<string, V> {
	readonly size: number;

	/** @param over what lies over `base`; `null`: it is gone */
	private constructor(
		private readonly base: ReadonlyMap<string, V>,
		private readonly over: ReadonlyMap<string, V | null>
	) {
		let size = base.size;
		for (const [key, value] of over) size += Number(value !== null) - Number(base.has(key));
		this.size = size;
	}

	static of<V extends object>(base: ReadonlyMap<string, V>): LayeredMap<V> {
		return new LayeredMap(base, new Map());
	}

	/** With these set, or taken out where they are `null`. */
	with(changes: ReadonlyMap<string, V | null>): LayeredMap<V> {
		if (changes.size === 0) return this;
		const over = new Map(this.over);
		for (const [key, value] of changes) {
			// Who comes back after having gone comes last, like whatever is new.
			if (over.get(key) === null && value !== null && this.base.has(key)) return this.written().with(changes);
			if (value === null && !this.base.has(key)) over.delete(key);
			else over.set(key, value);
		}
		const made = new LayeredMap(this.base, over);
		return over.size > MOST_OVER ? made.written() : made;
	}

	private written(): LayeredMap<V> {
		return LayeredMap.of(new Map(this));
	}

	get(key: string): V | undefined {
		if (this.over.size > 0) {
			const found = this.over.get(key);
			if (found !== undefined) return found ?? undefined;
		}
		return this.base.get(key);
	}

	has(key: string): boolean {
		return this.get(key) !== undefined;
	}

	[Symbol.iterator](): MapIterator<[string, V]> {
		return this.over.size === 0 ? this.base[Symbol.iterator]() : this.layered();
	}

	private *mapped<T>(of: (entry: [string, V]) => T): MapIterator<T> {
		for (const entry of this) yield of(entry);
	}

	private *layered(): MapIterator<[string, V]> {
		for (const [key, value] of this.base) {
			const over = this.over.get(key);
			if (over !== null) yield [key, over ?? value];
		}
		for (const [key, value] of this.over) if (value !== null && !this.base.has(key)) yield [key, value];
	}

	entries(): MapIterator<[string, V]> {
		return this[Symbol.iterator]();
	}

	keys(): MapIterator<string> {
		return this.over.size === 0 ? this.base.keys() : this.mapped(([key]) => key);
	}

	values(): MapIterator<V> {
		return this.over.size === 0 ? this.base.values() : this.mapped(([, value]) => value);
	}

	forEach(visit: (value: V, key: string, map: ReadonlyMap<string, V>) => void): void {
		for (const [key, value] of this) visit(value, key, this);
	}
}
