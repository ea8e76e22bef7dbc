import { allFences } from '$server/db/queries/policy';
import { libraryList } from '$server/db/queries/library';
import { plansWithPrices } from '$server/db/queries/sales';
import type { LayoutServerLoad } from './$types';

const SHOWN = 1000;

export const load: LayoutServerLoad = async ({ locals: { app } }) => ({
	fences: await allFences(app.db),
	items: (await libraryList(app.db, '', SHOWN)).map(({ item }) => ({
		id: item.id,
		title: item.title,
		address: item.address
	})),
	plans: (await plansWithPrices(app.db)).map(({ id, name }) => ({ id, name })),
	defaultNotice: (await app.site()).defaultNotice
});
