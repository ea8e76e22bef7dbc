/** What the release board is asked for, as its address says it. */
import { isFoldedIn } from '$core/library/folds';
import type { BoardAsk } from '$server/reads/desk/releases';

const LONGEST_SEARCH = 100;

/** Rows of the board that are told at once. */
export const WINDOW = 30;

/** `?plan=…&compare=…&joined=…&within=…&q=…&only=released&folds=…` */
export function boardAsk(url: URL): BoardAsk {
	const param = (name: string) => url.searchParams.get(name) || null;
	return {
		plan: param('plan'),
		compare: param('compare'),
		joined: param('joined'),
		within: param('within'),
		search: (param('q') ?? '').trim().slice(0, LONGEST_SEARCH),
		isReleased: param('only') === 'released',
		isFolded: isFoldedIn(param('folds'))
	};
}
