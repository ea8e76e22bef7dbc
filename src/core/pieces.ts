/** Work that comes in pieces: between two of them, others have their turn. */

/** Runs it to its end, without a pause. */
export function drained<T>(work: Generator<void, T>): T {
	for (let step = work.next(); ; step = work.next()) if (step.done) return step.value;
}

/** The elements of a list, with a piece after each `size` of them. */
export function* each<T>(list: Iterable<T>, size: number, visit: (one: T) => void): Generator<void, void> {
	let n = 0;
	for (const one of list) {
		visit(one);
		if (++n % size === 0) yield;
	}
}
