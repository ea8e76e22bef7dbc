/** How many members there are, by what of plans they hold. */
import type { Instant } from '../time/instant';
import type { Member } from './model';

export interface MemberTotals {
	all: number;
	/** Hold a plan now. */
	holds: number;
	/** Held one, and hold none now. */
	lapsed: number;
	/** Never held one; one that begins later is none yet. */
	never: number;
}

/** @param aside plans that are none: labels */
export function totalsOf(
	members: Iterable<Pick<Member, 'grants'>>,
	aside: ReadonlySet<string>,
	now: Instant
): MemberTotals {
	const totals = { all: 0, holds: 0, lapsed: 0, never: 0 };
	for (const { grants } of members) {
		const begun = grants.filter(({ planId, from }) => !aside.has(planId) && from <= now);
		const isHeld = begun.some(
			({ until, revokedAt }) => (until === null || until > now) && (revokedAt === null || revokedAt > now)
		);
		totals.all++;
		totals[isHeld ? 'holds' : begun.length > 0 ? 'lapsed' : 'never']++;
	}
	return totals;
}
