import { inspect } from '$core/access/inspect';
import { allFences } from '$server/db/queries/policy';
import { plansWithPrices } from '$server/db/queries/sales';
import { asOf } from '$server/http/as-of';
import { deskNames } from '$server/http/names';
import { shownCategories, shownTags } from '$server/http/shown';
import { allBatches } from '$server/usecases/codes/codes';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals: { app }, url }) => {
	const { moment, policy } = await asOf(app, url);
	const { caught, findings } = inspect(policy, moment.at);
	const named = (rows: { id: string; name: string }[]) => rows.map(({ id, name }) => ({ id, name }));
	return {
		fences: (await allFences(app.db)).map((fence) => ({
			...fence,
			catches: caught.get(fence.id)?.length ?? 0
		})),
		findings,
		known: await deskNames(app),
		choices: {
			plans: named(await plansWithPrices(app.db)),
			categories: named(await shownCategories(app)),
			tags: named(await shownTags(app)),
			batches: named((await allBatches(app)).map(({ batch }) => batch))
		},
		siteTurnAway: (await app.site()).turnAway
	};
};
