import { CURRENCIES } from '$core/billing/money';
import { planList } from '$server/reads/desk/plans';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals: { app } }) => ({
	currencies: CURRENCIES,
	offlineName: (await app.site()).offline.name,
	origin: app.settings.origin,
	...(await planList(app))
});
