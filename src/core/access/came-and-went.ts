/**
 * Who holds a plan over time, and whose plan ran out: told from what members were given, whatever it was bought or given by.
 *
 * Example: held from January to March and again from February on is held from January on, and nothing ran out.
 */
import type { Instant } from '../time/instant';
import { between, union, type IntervalSet } from '../time/interval-set';
import { endOfGrant } from './clock';
import type { Grant, Member } from './model';

type Holder = Pick<Member, 'id' | 'grants'>;

export interface Lapse {
	memberId: string;
	planId: string;
	/** The first moment without it. */
	at: Instant;
}

/**
 * Plans that ran out in `(from, to]` and were not held on. What somebody ended is told by whoever ended it, and is none.
 *
 * @param aside plans that are none: labels
 * @returns the latest first
 */
export function lapsesWithin(
	members: Iterable<Holder>,
	aside: ReadonlySet<string>,
	from: Instant,
	to: Instant
): Lapse[] {
	const lapses: Lapse[] = [];
	for (const { id, grants } of members) {
		for (const grant of grants) {
			const at = endOfGrant(grant);
			if (at === null || at <= from || at > to || aside.has(grant.planId)) continue;
			const isEnded = grant.revokedAt !== null && grant.revokedAt <= at;
			if (isEnded || grant.from >= at || isHeldOn(grants, grant, at)) continue;
			if (!lapses.some((one) => one.memberId === id && one.planId === grant.planId && one.at === at))
				lapses.push({ memberId: id, planId: grant.planId, at });
		}
	}
	return lapses.sort((a, b) => b.at - a.at || (a.memberId < b.memberId ? -1 : 1));
}

/** Whether another grant of the same plan goes on over an end. */
function isHeldOn(grants: readonly Grant[], of: Grant, at: Instant): boolean {
	return grants.some((other) => {
		const end = endOfGrant(other);
		return other !== of && other.planId === of.planId && other.from <= at && (end === null || end > at);
	});
}

/**
 * How many members hold any plan at each of some moments.
 *
 * @param moments in order
 */
export function holdersAt(
	members: Iterable<Pick<Member, 'grants'>>,
	aside: ReadonlySet<string>,
	moments: readonly Instant[]
): number[] {
	const counts = moments.map(() => 0);
	for (const { grants } of members) {
		const held = grants
			.filter(({ planId }) => !aside.has(planId))
			.reduce<IntervalSet>((set, grant) => {
				const end = endOfGrant(grant);
				return end !== null && end <= grant.from ? set : union(set, between(grant.from, end));
			}, []);
		let n = 0;
		for (const { start, end } of held) {
			while (n < moments.length && (moments[n] ?? 0) < start) n++;
			for (; n < moments.length && (end === null || (moments[n] ?? 0) < end); n++)
				counts[n] = (counts[n] ?? 0) + 1;
		}
	}
	return counts;
}
