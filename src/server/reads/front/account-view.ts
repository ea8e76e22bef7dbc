import { standingOf } from '$core/billing/payment';
import { sellsAt } from '$core/billing/plan-access';
import { phaseOf } from '$core/billing/phases';
import { shownOfPlan } from './lists';
import type { Look, Looking } from '../../rights/look';
import { itemsByIds } from '../../db/queries/items';
import { agreementsOf, courseNow } from '../../db/queries/agreements';
import { paymentsOf, planById } from '../../db/queries/sales';

/** What members see of their plans and payments; every row leads to the content. */
export async function accountView(app: Looking, look: Look, memberId: string) {
	const plans = [];
	for (const row of await agreementsOf(app.db, memberId)) {
		const plan = await planById(app.db, row.planId);
		if (!plan) continue;
		const { phases, open } = await courseNow(app.db, row);
		const { terms } = phaseOf(phases, row.period);
		const items = await itemsByIds(app.db, await shownOfPlan(app, look, plan.id));
		plans.push({
			id: row.id,
			name: plan.name,
			slug: plan.slug,
			isOnSale: sellsAt(plan, look.now),
			state: row.state,
			isInstalments: terms.then.kind === 'more' && terms.then.times !== null,
			endReason: row.endReason,
			endedAt: row.endedAt,
			/** The end of what is paid; `null`: it has none. */
			paidThrough: row.paidThrough,
			/** Until when it is open, though nothing more is asked for; `null`: for good, or shut. */
			openUntil: open?.until ?? null,
			isOpen: open !== null,
			terms,
			items: items.map(({ id, title, address }) => ({ id, title, address }))
		});
	}
	const payments = (await paymentsOf(app.db, memberId)).map(({ documents, ...payment }) => ({
		id: payment.id,
		standing: standingOf(payment),
		amountMinor: payment.amountMinor,
		currency: payment.currency,
		at: payment.createdAt,
		documents: documents.map(({ number }) => number)
	}));
	return { plans, payments };
}
