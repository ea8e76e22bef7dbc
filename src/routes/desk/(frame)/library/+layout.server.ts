import { ITEM_STATES, RESOURCE_KINDS } from '$core/access/model';
import { deskNames } from '$server/reads/desk/names';
import { libraryLabels, libraryPage } from '$server/reads/desk/library-list';
import { planNames } from '$server/reads/desk/plans';
import { placeName } from '$ui/names';
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
		...(await libraryLabels(app)),
		plans: await planNames(app),
		library: rows.map((row) => ({ ...row, fences: closing(row.id) }))
	};
};
