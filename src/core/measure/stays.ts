/**
 * Who stays: of those who began to pay in a month, how many still pay at the end of it and of each month after it.
 *
 * Example: two begin in May, one of them stops on 3 July: at the end of May 2 pay, of June 2, of July 1. Whoever comes back
 * counts again from then on, with those of the month in which they came first.
 */
import type { Instant } from '../time/instant';

/** What one member’s recurring income changed by at a moment. */
export interface Change {
	memberId: string;
	at: Instant;
	deltaMinor: number;
}

/** A month, and the first moment after it; of the present one, now. */
export interface MonthEnd {
	/** Such as 2026-05. */
	month: string;
	end: Instant;
}

export interface Joined {
	month: string;
	members: string[];
	/** Who pays at the end of that month, and of each after it. */
	staying: string[][];
}

/**
 * @param changes in the order of their moments
 * @param months in their order, without a gap; whoever came before them is left out
 */
export function whoStays(changes: readonly Change[], months: readonly MonthEnd[], begin: Instant): Joined[] {
	const joined = months.map(({ month }, n) => ({
		...{ month, members: [] as string[] },
		staying: months.slice(n).map(() => [] as string[])
	}));
	const byMember = new Map<string, Change[]>();
	for (const change of changes) {
		const known = byMember.get(change.memberId);
		if (known) known.push(change);
		else byMember.set(change.memberId, [change]);
	}
	for (const [memberId, own] of byMember) {
		const first = own[0]?.at ?? begin;
		const came = first < begin ? -1 : months.findIndex(({ end }) => first < end);
		const of = joined[came];
		if (!of) continue;
		of.members.push(memberId);
		let held = 0;
		let next = 0;
		months.forEach(({ end }, n) => {
			for (let change = own[next]; change && change.at < end; change = own[++next]) held += change.deltaMinor;
			if (n >= came && held > 0) of.staying[n - came]?.push(memberId);
		});
	}
	return joined;
}
