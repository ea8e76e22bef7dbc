import { setImmediate as pause } from 'node:timers/promises';

/** Runs work that comes in pieces; between two of them requests go on. */
export async function inPieces<T>(work: Generator<void, T>, signal?: AbortSignal): Promise<T> {
	for (let step = work.next(); ; step = work.next()) {
		signal?.throwIfAborted();
		if (step.done) return step.value;
		await pause();
	}
}
