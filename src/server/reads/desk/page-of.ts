/** A part of a long list of decisions, as the address asks for it: `?state=open&page=2`. */
import type { Verdict } from '$core/access/decision';

export interface DecidedPage<T> {
	rows: T[];
	/** How many there are of each verdict, in the whole list. */
	counts: Partial<Record<Verdict, number>>;
	state: Verdict | null;
	/** Of those in `state`. */
	total: number;
	pageSize: number;
}

export function pageOf<T extends { verdict: Verdict }>(
	all: readonly T[],
	state: Verdict | null,
	url: URL,
	pageSize: number
): DecidedPage<T> {
	const counts: Partial<Record<Verdict, number>> = {};
	for (const { verdict } of all) counts[verdict] = (counts[verdict] ?? 0) + 1;
	const kept = state === null ? all : all.filter(({ verdict }) => verdict === state);
	const last = Math.max(1, Math.ceil(kept.length / pageSize));
	const page = Math.min(last, Math.max(1, Math.floor(Number(url.searchParams.get('page') ?? 1)) || 1));
	return {
		rows: kept.slice((page - 1) * pageSize, page * pageSize),
		counts,
		state,
		total: kept.length,
		pageSize
	};
}
