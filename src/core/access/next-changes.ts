/** What changes next, by itself: for one member over all resources, or for one resource over many members. */
import type { Instant } from '../time/instant';
import type { Verdict } from './decision';
import { alikeFor, plansOf, type AlikeClass } from './alike';
import type { Member, Viewer } from './model';
import type { Policy } from './policy';
import { drained } from '../pieces';
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
	for (const { id, resourceIds: alike } of alikeFor(policy, viewer, resourceIds)) {
		// A stretch that begins at the very end of the span belongs to it.
		const stretches = timeline(policy, viewer, id, from, to === null ? null : to + 1, assume);
		for (let n = 1; n < stretches.length; n++) {
			const before = stretches[n - 1];
			const after = stretches[n];
			if (!before || !after) continue;
			for (const resourceId of alike)
				changes.push({ resourceId, at: after.start, from: before.verdict, to: after.verdict });
		}
	}
	return changes.sort((a, b) => a.at - b.at);
}

/** Groups looked at between two pauses. */
const AT_ONCE = 512;

/** Something that opens by itself, and for how many members. */
export interface ComingRelease {
	resourceId: string;
	/** The first moment in this bucket at which it opens for somebody. */
	at: Instant;
	members: number;
}

/**
 * What opens for whom in `(from, to]`: one row for each resource and day (`dayOf` names the day of an instant). Members of
 * equal standing are looked at once. `most`: so many, the earliest.
 */
export function comingReleases(...ask: Parameters<typeof comingReleasesInPieces>): ComingRelease[] {
	return drained(comingReleasesInPieces(...ask));
}

/** The same, so that whoever runs it can do other things between the pieces. */
export function* comingReleasesInPieces(
	policy: Policy,
	groups: readonly { viewer: Member; memberIds: readonly string[] }[],
	resourceIds: readonly string[],
	from: Instant,
	to: Instant,
	dayOf: (at: Instant) => string,
	most = Infinity
): Generator<void, ComingRelease[]> {
	const byPlans = new Map<string, AlikeClass[]>();
	// By class first: what opens alike on one day is counted once, however many resources it is.
	const days = new Map<string, Map<AlikeClass, { at: Instant; members: number }>>();
	for (let n = 0; n < groups.length; n++) {
		if (n % AT_ONCE === AT_ONCE - 1) yield;
		const { viewer, memberIds } = groups[n] as (typeof groups)[number];
		const key = plansOf(viewer).key;
		let classes = byPlans.get(key);
		if (!classes) byPlans.set(key, (classes = alikeFor(policy, viewer, resourceIds)));
		for (const one of classes) {
			const stretches = timeline(policy, viewer, one.id, from, to + 1, 'renewals-go-on');
			const counted = new Set<string>();
			for (const { start, verdict } of stretches.slice(1)) {
				if (verdict !== 'open') continue;
				const day = dayOf(start);
				let opened = days.get(day);
				if (!opened) days.set(day, (opened = new Map()));
				const before = opened.get(one);
				// Whoever finds it open twice in a day is one.
				const more = counted.has(day) ? 0 : memberIds.length;
				counted.add(day);
				opened.set(one, {
					at: Math.min(before?.at ?? start, start),
					members: (before?.members ?? 0) + more
				});
			}
		}
	}
	const found = new Map<string, ComingRelease>();
	const first = (opened: Map<AlikeClass, { at: Instant }>) =>
		Math.min(...[...opened.values()].map(({ at }) => at));
	for (const [day, opened] of [...days].sort(([, a], [, b]) => first(a) - first(b))) {
		if (found.size >= most) break;
		for (const [{ resourceIds: alike }, { at, members }] of opened)
			for (const resourceId of alike) {
				const key = `${resourceId} ${day}`;
				const before = found.get(key);
				found.set(key, {
					resourceId,
					at: Math.min(before?.at ?? at, at),
					members: (before?.members ?? 0) + members
				});
			}
	}
	return [...found.values()].sort((a, b) => a.at - b.at).slice(0, most);
}
