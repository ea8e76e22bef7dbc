import { ITEM_STATES, RESOURCE_KINDS } from '$core/access/model';
import { plansWithPrices } from '$server/db/queries/sales';
import { deskNames } from '$server/http/names';
import { libraryPage } from '$server/reads/library-page';
import { placeName } from '$ui/names';
import { shownCategories, shownTags } from '$server/rights/shown';
import type { LayoutServerLoad } from './$types';

const PAGE_SIZE = 100;

export const load: LayoutServerLoad = async ({ locals: { app }, url }) => {
	const param = (name: string) => url.searchParams.get(name) || null;
	const ask = {
		search: (url.searchParams.get('q') ?? '').trim().slice(0, 100),
		kind: RESOURCE_KINDS.find((kind) => kind === param('kind')) ?? null,
		homeId: param('home'),
		categoryId: param('category'),
		tagId: param('tag'),
		state: ITEM_STATES.find((state) => state === param('state')) ?? null,
		isUnfenced: param('fenced') === 'no',
		limit: PAGE_SIZE,
		page: Math.max(1, Math.floor(Number(param('page'))) || 1)
	};
	const policy = await app.rights.policy();
	const { rows, total } = await libraryPage(app, policy, ask);
	const closing = (id: string) => {
		const resource = policy.resources.get(id);
		return resource ? policy.passage(resource).met.length : 0;
	};
	const { resources } = await deskNames(app);
	return {
		ask,
		total,
		pageSize: PAGE_SIZE,
		uploadLimit: app.settings.uploadLimitBytes,
		origin: app.settings.origin,
		home: ask.homeId === null ? null : { id: ask.homeId, label: placeName(resources, ask.homeId) },
		categories: await shownCategories(app),
		tags: await shownTags(app),
		plans: (await plansWithPrices(app.db)).map(({ id, name }) => ({ id, name })),
		library: rows.map(({ item, asset }) => ({
			id: item.id,
			title: item.title,
			kind: item.kind,
			state: item.state,
			homeId: item.homeId,
			assetState: asset?.state ?? null,
			seconds: asset?.seconds ?? null,
			base: item.base,
			fences: closing(item.id)
		}))
	};
};
