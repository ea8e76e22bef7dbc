/**
 * What a field holds. Bound, it is its owner's (`bind:value`). Given (`from`), it is the field's own from then on: it follows
 * what it was given only where that becomes another, and not where a page is read anew and says the same.
 */
export function held<T>(
	from: () => T | undefined,
	bound: { get(): T; set(value: T): void }
): { current: T; readonly first: T } {
	const given = $derived(JSON.stringify(from()));
	let own = $derived(given === undefined ? undefined : (JSON.parse(given) as T));
	return {
		get current() {
			return given === undefined ? bound.get() : (own as T);
		},
		set current(to: T) {
			if (given === undefined) bound.set(to);
			else own = to;
		},
		/** What a form that is put back begins with again. */
		get first() {
			return given === undefined ? bound.get() : (JSON.parse(given) as T);
		}
	};
}
