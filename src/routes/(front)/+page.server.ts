import { publishedList } from '$server/db/queries/library';
import { offersFor } from '$server/http/offers';
import { shownPlans } from '$server/http/shown';
import { mayShowPoster } from '$server/http/media';
import type { PageServerLoad } from './$types';

const SHOWN = 60;

/** The catalogue. Each item is decided: what is absent for this viewer does not stand here either. */
export const load: PageServerLoad = async ({ locals: { app, viewer } }) => {
	const viewerId = viewer?.id ?? null;
	const rows = await publishedList(app.db, SHOWN);
	const items = await Promise.all(
		rows.map(async ({ item, seconds }) => {
			const decision = await app.rights.decide(viewerId, item.id);
			if (decision.verdict !== 'open' && decision.turnAway.kind === 'absent') return null;
			const poster = (await mayShowPoster(app, viewerId, item.id)) ? `/media/poster/${item.id}` : null;
			return {
				id: item.id,
				title: item.title,
				address: item.address,
				seconds,
				verdict: decision.verdict,
				poster
			};
		})
	);
	const plans = (await shownPlans(app)).filter((plan) => plan.isPublic && plan.isOnSale);
	return {
		items: items.filter((item) => item !== null),
		offers: await offersFor(app, viewerId, plans, null)
	};
};
