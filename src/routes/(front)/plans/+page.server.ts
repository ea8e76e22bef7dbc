import { offersFor } from '$server/http/offers';
import { shownPlans } from '$server/http/shown';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer } }) => {
	const plans = (await shownPlans(app)).filter((plan) => plan.isPublic && plan.isOnSale);
	return { offers: await offersFor(app, viewer?.id ?? null, plans, null) };
};
