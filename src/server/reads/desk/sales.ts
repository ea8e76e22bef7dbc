/** Payments and orders as the Desk shows them. */
import { openedByPlan } from '$core/access/policy';
import type { Using } from '../../app';
import { PAGE_SIZE, paymentList, type ListAsk } from '../../db/queries/lists';
import { accountById } from '../../db/queries/members';
import { agreementOfOrder } from '../../db/queries/agreements';
import { lineOf, orderById, paymentsOfOrder, planById } from '../../db/queries/sales';

export async function salesPage(app: Using<'db'>, ask: ListAsk) {
	return { ...(await paymentList(app.db, ask)), pageSize: PAGE_SIZE };
}

/** `null`: there is none, or none that stands at the Desk, for a stranger has not paid it. */
export async function orderPage(app: Using<'db' | 'rights'>, id: string) {
	const order = await orderById(app.db, id);
	if (!order || order.memberId === null) return null;
	const line = await lineOf(app.db, order.id);
	const plan = await planById(app.db, line.planId);
	const account = await accountById(app.db, order.memberId);
	const agreement = await agreementOfOrder(app.db, order.id);
	const payments = await paymentsOfOrder(app.db, order.id);
	return {
		order: { number: order.number, state: order.state, createdAt: order.createdAt },
		member: { id: order.memberId, name: account?.name ?? 'a deleted account' },
		plan: { id: line.planId, name: plan?.name ?? 'a plan that is gone' },
		agreement: agreement && {
			state: agreement.state,
			period: agreement.period,
			attempt: agreement.attempt,
			nextAt: agreement.nextAt,
			paidThrough: agreement.paidThrough
		},
		opens: openedByPlan(await app.rights.policy(), line.planId).length,
		payments: payments.map(({ id, state, period, attempt, amountMinor, currency, createdAt }) => ({
			id,
			state,
			period,
			attempt,
			amountMinor,
			currency,
			at: createdAt
		}))
	};
}
