/**
 * Fences that are a plan's alone: its holders are their only crossing, at any time and without limits. They are what a plan's
 * own page says and writes: that it opens everything, or what was chosen for it.
 *
 * Example: a fence around the course Pendulum whose only crossing is for holders of Apprentice is Apprentice's own; one that
 * Journeyman's holders may cross, too, is nobody's own.
 */
import type { Fence } from './model';

export interface OwnFences<F extends Fence> {
	/** It adds the plan to everything, inside every narrower fence, too. */
	everything: F | null;
	/** It adds the plan to items that were picked by hand. */
	items: F | null;
	/** Around single collections, by their id. */
	within: Map<string, F>;
}

/** @param fences newest first; of several of one sort the oldest counts, and what is off does not */
export function ownFences<F extends Fence>(fences: readonly F[], planId: string): OwnFences<F> {
	const own: OwnFences<F> = { everything: null, items: null, within: new Map() };
	for (const fence of fences) {
		const { selector, mode, crossings, isOn } = fence;
		const [only, ...others] = crossings;
		if (!isOn || !only || others.length > 0 || only.window !== null || !isWithoutLimits(only.limits))
			continue;
		if (only.audience.kind !== 'holders' || only.audience.planIds.join() !== planId) continue;
		if (selector.kind === 'everything' && mode === 'adds' && only.isThroughout) own.everything = fence;
		else if (selector.kind === 'items' && mode === 'adds') own.items = fence;
		else if (selector.kind === 'within' && selector.extensions.length === 0 && mode !== 'seals')
			own.within.set(selector.collectionId, fence);
	}
	return own;
}

function isWithoutLimits({ uses, minutes, hours }: Fence['crossings'][number]['limits']): boolean {
	return [uses, minutes, hours].every((one) => one === 'none');
}
