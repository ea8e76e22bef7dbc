import { error } from '@sveltejs/kit';
import { itemsOpenedBy } from '$core/access/policy';
import { itemsByIds } from '$server/db/queries/library';
import { planBySlug } from '$server/db/queries/sales';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { offersFor } from '$server/http/offers';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params }) => {
	const plan = await planBySlug(app.db, params.slug);
	if (!plan) error(404, NO_SUCH_PAGE);
	const viewerId = viewer?.id ?? null;
	const [offer] = await offersFor(app, viewerId, [plan], null);
	const opened = itemsOpenedBy(await app.rights.policy(), plan.id).filter(
		(item) => item.state === 'published'
	);
	const shown = [];
	for (const { id } of opened) {
		const decision = await app.rights.decide(viewerId, id);
		if (decision.verdict === 'open' || decision.turnAway.kind !== 'absent')
			shown.push({ id, verdict: decision.verdict });
	}
	const titles = new Map(
		(
			await itemsByIds(
				app.db,
				shown.map(({ id }) => id)
			)
		).map((item) => [item.id, item])
	);
	return {
		offer,
		isOnSale: plan.isOnSale,
		items: shown.flatMap(({ id, verdict }) => {
			const item = titles.get(id);
			return item ? [{ id, verdict, title: item.title, address: item.address }] : [];
		})
	};
};
