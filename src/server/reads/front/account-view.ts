import { paidUntil } from '$core/billing/subscription';
import { shownOfPlan } from './lists';
import type { Look, Looking } from '../../rights/look';
import { itemsByIds } from '../../db/queries/items';
import {
	paymentsOf,
	planById,
	priceVersionById,
	subscriptionsOf,
	stateOf,
	termsOf
} from '../../db/queries/sales';

/** What members see of their plans and payments; every row leads to the content. */
export async function accountView(app: Looking, look: Look, memberId: string) {
	const plans = [];
	for (const row of await subscriptionsOf(app.db, memberId)) {
		const plan = await planById(app.db, row.planId);
		const price = await priceVersionById(app.db, row.priceVersionId);
		const terms = termsOf(row, price);
		const state = stateOf(row);
		if (!plan) continue;
		const items = await itemsByIds(app.db, await shownOfPlan(app, look, plan.id));
		plans.push({
			id: row.id,
			name: plan.name,
			slug: plan.slug,
			isOnSale: plan.isOnSale,
			state: state.kind,
			endReason: row.endReason,
			endedAt: row.endedAt,
			/** The end of what is paid: a period that is being renewed is not. */
			paidUntil: paidUntil(terms, state.kind === 'renewing' ? state.period - 1 : state.period),
			amountMinor: price.amountMinor,
			currency: price.currency,
			unit: price.periodUnit,
			items: items.map(({ id, title, address }) => ({ id, title, address }))
		});
	}
	const payments = (await paymentsOf(app.db, memberId)).map(
		({ id, state, amountMinor, currency, createdAt, receipt }) => ({
			id,
			state,
			amountMinor,
			currency,
			at: createdAt,
			receipt
		})
	);
	return { plans, payments };
}
