import { error, fail } from '@sveltejs/kit';
import { openedByPlan } from '$core/access/policy';
import { accountById } from '$server/db/queries/members';
import { lineOf, orderById, paymentsOfOrder, planById, subscriptionOfOrder } from '$server/db/queries/sales';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { parse, readForm } from '$server/http/parse';
import { refundPayment } from '$server/usecases/sales/refund-payment';
import type { Actions, PageServerLoad } from './$types';
import { RefundForm } from './form';

const PROBLEMS = {
	unknown: 'This payment is not known to the processor.',
	'not-captured': 'This payment is not paid, or was given back already.'
};

export const load: PageServerLoad = async ({ locals: { app }, params }) => {
	const order = await orderById(app.db, params.id);
	// What a stranger has not paid stands nowhere at the Desk.
	if (!order || order.memberId === null) error(404, NO_SUCH_PAGE);
	const line = await lineOf(app.db, order.id);
	const plan = await planById(app.db, line.planId);
	const account = await accountById(app.db, order.memberId);
	const subscription = await subscriptionOfOrder(app.db, order.id);
	const payments = await paymentsOfOrder(app.db, order.id);
	return {
		order: { number: order.number, state: order.state, createdAt: order.createdAt },
		member: { id: order.memberId, name: account?.name ?? 'a deleted account' },
		plan: { id: line.planId, name: plan?.name ?? 'a plan that is gone' },
		subscription: subscription && { state: subscription.state, period: subscription.period },
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
};

export const actions: Actions = {
	refund: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(RefundForm, await readForm(request));
		if (!parsed.ok) return fail(400, { problem: Object.values(parsed.errors).flat()[0] ?? '' });
		const refunded = await refundPayment(app, viewer, parsed.data.payment, parsed.data.why);
		if (!refunded.ok) return fail(409, { problem: PROBLEMS[refunded.code] });
		return { saved: 'The payment was given back.' };
	}
};
