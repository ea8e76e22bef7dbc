import { CURRENCIES } from '$core/billing/money';
import { itemsOpenedBy } from '$core/access/policy';
import { plansWithPrices } from '$server/db/queries/sales';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals: { app } }) => {
	const policy = await app.rights.policy();
	return {
		currencies: CURRENCIES,
		plans: (await plansWithPrices(app.db)).map(({ id, name, isPublic, isOnSale, price }) => ({
			id,
			name,
			isPublic,
			isOnSale,
			amountMinor: price.amountMinor,
			currency: price.currency,
			unit: price.periodUnit,
			opens: itemsOpenedBy(policy, id).length
		}))
	};
};
