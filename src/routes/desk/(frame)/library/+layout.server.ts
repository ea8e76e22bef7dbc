import { libraryList } from '$server/db/queries/library';
import type { LayoutServerLoad } from './$types';

const SHOWN = 200;

export const load: LayoutServerLoad = async ({ locals: { app }, url }) => {
	const search = url.searchParams.get('q') ?? '';
	const policy = await app.rights.policy();
	const rows = await libraryList(app.db, search, SHOWN);
	return {
		search,
		uploadLimit: app.settings.uploadLimitBytes,
		library: rows.map(({ item, asset }) => ({
			id: item.id,
			title: item.title,
			state: item.state,
			assetState: asset?.state ?? null,
			seconds: asset?.seconds ?? null,
			fences: policy.items.get(item.id)?.fences.length ?? 0
		}))
	};
};
