/** How far long requests of this node have come, for whoever waits for them: they ask under a key of their own. */
import { LRUCache } from 'lru-cache';

/** Small, and forgotten from the oldest on. */
const MOST = 500;
const KEY = /^[0-9a-f-]{36}$/;

const going = new LRUCache<string, Counted>({ max: MOST });

export class Counted {
	private done = 0;
	private of = 0;

	/** So much more is to be done. */
	expect(steps: number): void {
		this.of += steps;
	}

	step(): void {
		this.done++;
	}

	/** In percent: never all of it, which only the answer says. */
	get percent(): number {
		return this.of === 0 ? 0 : Math.min(99, Math.floor((this.done / this.of) * 100));
	}
}

/** @param key as the one who waits has made it; without one nobody asks */
export function counted(key: unknown): Counted {
	const made = new Counted();
	if (typeof key === 'string' && KEY.test(key)) going.set(key, made);
	return made;
}

/** `null`: nothing is known of it here. */
export function percentOf(key: string): number | null {
	return going.get(key)?.percent ?? null;
}
