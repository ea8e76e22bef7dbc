/**
 * Argon2 in a worker of its own: hashing is dear by intention, and asynchronous calls would share the threads that read
 * files. At most `MOST_WAITING` wait; who comes after that is told that Stile is busy.
 */
import { Worker } from 'node:worker_threads';

/** OWASP password storage: Argon2id, 19 MiB, 2 passes, 1 lane. */
const STRENGTH = { memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;

/** Some 40 ms each: whoever is the last to be let in waits for about a second and a half. */
export const MOST_WAITING = 40;

/** Run as text: it needs nothing but the package, whatever the build made of this file. */
const SCRIPT = `
const { parentPort, workerData } = require('node:worker_threads');
const { createRequire } = require('node:module');
const { hashSync, verifySync } = createRequire(workerData.from)('@node-rs/argon2');
parentPort.on('message', ({ id, stored, password }) => {
	try {
		const done = stored === null ? hashSync(password, workerData.strength) : verifySync(stored, password);
		parentPort.postMessage({ id, done });
	} catch (error) {
		parentPort.postMessage({ id, problem: String(error) });
	}
});
`;

interface Answer {
	id: number;
	done?: string | boolean;
	problem?: string;
}

interface Waiting {
	resolve: (done: string | boolean) => void;
	reject: (error: Error) => void;
}

export interface Hasher {
	/** `null`: too many wait. */
	hash(password: string): Promise<string | null>;
	verify(stored: string, password: string): Promise<boolean | null>;
}

export function createHasher(): Hasher {
	const waiting = new Map<number, Waiting>();
	let worker: Worker | null = null;
	let count = 0;

	function begin(): Worker {
		const made = new Worker(SCRIPT, {
			eval: true,
			workerData: { from: import.meta.url, strength: STRENGTH }
		});
		made.on('message', ({ id, done, problem }: Answer) => {
			const asked = waiting.get(id);
			waiting.delete(id);
			if (waiting.size === 0) made.unref();
			if (done === undefined) asked?.reject(new Error(problem ?? 'A password could not be looked at'));
			else asked?.resolve(done);
		});
		made.on('error', (cause) => {
			worker = null;
			for (const asked of waiting.values()) asked.reject(new Error('The hashing worker ended', { cause }));
			waiting.clear();
		});
		made.unref();
		return made;
	}

	function ask(stored: string | null, password: string): Promise<string | boolean> | null {
		if (waiting.size >= MOST_WAITING) return null;
		worker ??= begin();
		const id = ++count;
		const answer = new Promise<string | boolean>((resolve, reject) => waiting.set(id, { resolve, reject }));
		worker.ref();
		worker.postMessage({ id, stored, password });
		return answer;
	}

	return {
		hash: async (password) => (await ask(null, password)) as string | null,
		verify: async (stored, password) => (await ask(stored, password)) as boolean | null
	};
}
