/** Counted openings as their holder asks for them: how many there were, and how many there may be. */
import { decide } from './decide/decide';
import { NO_CONTEXT, type Use, type UseGift, type Viewer } from './model';
import type { Policy } from './policy';
import type { Instant } from '../time/instant';

/** The most that are counted out. */
const MOST_COUNTED = 1000;

/** A use that nothing goes on with: what begins next is one of its own. */
export function ended(use: Use): Use {
	return { ...use, goesOnUntil: use.at };
}

/**
 * @param counted what the viewer has used of the resource, and was given on top
 * @returns `null`: nothing is counted, or something else closes it
 */
export function usesLeft(
	policy: Policy,
	viewer: Viewer,
	resourceId: string,
	now: Instant,
	{ uses, gifts }: { uses: readonly Use[]; gifts: readonly UseGift[] }
): { used: number; limit: number } | null {
	/** How many more may begin, found by asking: limits count by grants and paid periods, and gifts by theirs. */
	const room = (seen: readonly Use[]): number | null => {
		const all = [...seen];
		for (let n = 0; n < MOST_COUNTED; n++) {
			const decision = decide(policy, viewer, resourceId, now, {
				...NO_CONTEXT,
				gifts: [...gifts],
				uses: all
			});
			if (decision.verdict !== 'open') return n;
			if (decision.allowedBy.by !== 'crossing' || !decision.allowedBy.isCounted) return null;
			all.push({ grantId: decision.allowedBy.grantId, at: now, goesOnUntil: now });
		}
		return null;
	};
	const left = room(uses.map(ended));
	const limit = room([]);
	// Where nothing could be begun at all, it is not the uses that close it.
	return left === null || limit === null || limit === 0 ? null : { used: Math.max(0, limit - left), limit };
}
