/**
 * Which wider fences a fence meets: those that catch something of what it catches, too. How it stands to them is a choice only
 * where there are any.
 *
 * Example: a fence on one course meets one on the whole site, at each of its lessons.
 */
import type { Policy } from './policy';

export interface Meeting {
	fenceId: string;
	/** One thing that both catch, the first in the given order. */
	exampleId: string;
	/** How many both catch. */
	count: number;
}

/**
 * @param caught ids of what the fence catches
 * @returns the one that is met most first
 */
export function meetingsOf(policy: Policy, fenceId: string, caught: readonly string[]): Meeting[] {
	const found = new Map<string, Meeting>();
	for (const id of caught) {
		const resource = policy.resources.get(id);
		if (!resource) continue;
		const { met, beyond } = policy.passage(resource);
		const at = met.findIndex((fence) => fence.id === fenceId);
		// Off, or behind a narrower one that ends the walk.
		if (at < 0) continue;
		for (const fence of [...met.slice(at + 1), ...beyond.map((one) => one.fence)]) {
			const known = found.get(fence.id);
			if (known) known.count++;
			else found.set(fence.id, { fenceId: fence.id, exampleId: id, count: 1 });
		}
	}
	return [...found.values()].sort((a, b) => b.count - a.count);
}
