/** What changes next, by itself: for one member over all resources, or for one resource over many members. */
import type { Instant } from '../time/instant';
import type { Verdict } from './decision';
import type { Viewer } from './model';
import type { Policy } from './policy';
import { timeline, type Assumption } from './timeline';

export interface NextChange {
	resourceId: string;
	at: Instant;
	from: Verdict;
	to: Verdict;
}

/** Every change of verdict in `(from, to]`, in order. */
export function changesFor(
	policy: Policy,
	viewer: Viewer,
	resourceIds: Iterable<string>,
	from: Instant,
	to: Instant | null,
	assume: Assumption
): NextChange[] {
	const changes: NextChange[] = [];
	for (const resourceId of resourceIds) {
		const stretches = timeline(policy, viewer, resourceId, from, to, assume);
		for (let n = 1; n < stretches.length; n++) {
			const before = stretches[n - 1];
			const after = stretches[n];
			if (before && after)
				changes.push({ resourceId, at: after.start, from: before.verdict, to: after.verdict });
		}
	}
	return changes.sort((a, b) => a.at - b.at);
}

/** Something that opens by itself, and for how many members. */
export interface ComingRelease {
	resourceId: string;
	/** The first moment in this bucket at which it opens for somebody. */
	at: Instant;
	members: number;
}

/**
 * What opens for whom in `(from, to]`: one row for each resource and day (`dayOf` names the day of an instant). Members of
 * equal standing are looked at once.
 */
export function comingReleases(
	policy: Policy,
	groups: readonly { viewer: Viewer; memberIds: readonly string[] }[],
	resourceIds: readonly string[],
	from: Instant,
	to: Instant,
	dayOf: (at: Instant) => string
): ComingRelease[] {
	const found = new Map<string, ComingRelease>();
	for (const { viewer, memberIds } of groups) {
		for (const { resourceId, at, to: verdict } of changesFor(
			policy,
			viewer,
			resourceIds,
			from,
			to,
			'renewals-go-on'
		)) {
			if (verdict !== 'open') continue;
			const key = `${resourceId} ${dayOf(at)}`;
			const known = found.get(key);
			if (known) {
				known.members += memberIds.length;
				known.at = Math.min(known.at, at);
			} else found.set(key, { resourceId, at, members: memberIds.length });
		}
	}
	return [...found.values()].sort((a, b) => a.at - b.at);
}
