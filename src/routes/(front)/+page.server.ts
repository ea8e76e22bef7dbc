import { listFor } from '$server/reads/lists';
import { offersAtPlace, offersFor, withWaysIn } from '$server/reads/offers';
import { denialOf } from '$server/http/pass';
import { shownPlans } from '$server/rights/shown';
import type { PageServerLoad } from './$types';

const SHOWN = 60;

/** What stands in a collection or below a page is listed there, and not on the front page too. */
export const load: PageServerLoad = async ({ locals }) => {
	const { app, look } = locals;
	const denial = await denialOf(locals, '/');
	const plans = (await shownPlans(app)).filter((plan) => plan.isPublic && plan.isOnSale);
	const items = denial
		? []
		: await listFor(app, look, (item) => item.homeId === null && item.address !== null);
	return {
		denial,
		items: await withWaysIn(app, look, items.slice(0, SHOWN)),
		offers: denial ? await offersAtPlace(app, look, '/') : offersFor(look, plans, null)
	};
};
