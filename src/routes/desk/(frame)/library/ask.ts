/** What the Library's list is asked for, as its address says it. */
import { ITEM_STATES, RESOURCE_KINDS } from '$core/access/model';
import { ROW_ORDERS } from '$core/library/rows';
import type { LibraryAsk } from '$server/reads/desk/library-rows';

const MOST_UNFOLDED = 200;
const LONGEST_SEARCH = 100;

export function libraryAsk(url: URL): LibraryAsk {
	const param = (name: string) => url.searchParams.get(name) || null;
	const order = param('order') ?? 'place';
	return {
		search: (param('q') ?? '').trim().slice(0, LONGEST_SEARCH),
		kind: RESOURCE_KINDS.find((kind) => kind === param('kind')) ?? null,
		state: ITEM_STATES.find((state) => state === param('state')) ?? null,
		categoryId: param('category'),
		tagId: param('tag'),
		homeId: param('home'),
		isUnfenced: param('fenced') === 'no',
		order: ROW_ORDERS.find((one) => one === order.replace(/^-/, '')) ?? 'place',
		isDescending: order.startsWith('-'),
		unfolded: new Set((param('open') ?? '').split('.').slice(0, MOST_UNFOLDED))
	};
}
