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
