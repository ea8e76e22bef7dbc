import { offersFor } from '$server/reads/offers';
import { shownPlans } from '$server/rights/shown';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, look } }) => {
	const plans = (await shownPlans(app)).filter((plan) => plan.isPublic && plan.isOnSale);
	return { offers: offersFor(look, plans, null) };
};
