import { CURRENCIES } from '$core/billing/money';
import { openedByPlan } from '$core/access/policy';
import { plansWithPrices } from '$server/db/queries/sales';
import { ladders } from '$server/db/schema/sales';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals: { app } }) => {
	const policy = await app.rights.policy();
	return {
		currencies: CURRENCIES,
		ladders: await app.db.select().from(ladders),
		plans: (await plansWithPrices(app.db)).map(({ id, name, isPublic, isOnSale, price }) => ({
			id,
			name,
			isPublic,
			isOnSale,
			amountMinor: price.amountMinor,
			currency: price.currency,
			unit: price.periodUnit,
			opens: openedByPlan(policy, id).length
		}))
	};
};
