import { plansWithPrices } from '$server/db/queries/sales';
import { offersFor } from '$server/http/offers';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer } }) => {
	const plans = (await plansWithPrices(app.db)).filter((plan) => plan.isPublic && plan.isOnSale);
	return { offers: await offersFor(app, viewer?.id ?? null, plans, null) };
};
