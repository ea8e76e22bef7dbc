import type { ListAsk } from '../../db/queries/lists';

/** What a long table is asked for by its address: `?q=…&order=…&page=…`. */
export function listAsk(url: URL): ListAsk {
	return {
		search: (url.searchParams.get('q') ?? '').trim().slice(0, 100),
		order: url.searchParams.get('order') ?? '',
		page: Math.max(1, Math.floor(Number(url.searchParams.get('page') ?? 1)) || 1)
	};
}
