/** Payments that buyers' banks have taken back, and what the access that ended with them was worth still. */
import { and, desc, eq, gte, isNull, or } from 'drizzle-orm';
import { unusedOf } from '$core/billing/agreement-answers';
import type { Using } from '../../app';
import { agreementsOfOrder, courseNow, sharesOf, type AgreementRow } from '../../db/queries/agreements';
import { accounts } from '../../db/schema/people';
import { disputes, payments, plans } from '../../db/schema/sales';

const SHOWN_FOR_MS = 90 * 86_400_000;
const SHOWN = 20;

/** Those of the last three months that are not decided. */
export async function openDisputes(app: Using<'clock' | 'db'>) {
	const rows = await app.db
		.select({ dispute: disputes, payment: payments, name: accounts.name })
		.from(disputes)
		.innerJoin(payments, eq(payments.id, disputes.paymentId))
		.innerJoin(accounts, eq(accounts.id, payments.memberId))
		.where(and(eq(disputes.state, 'open'), gte(disputes.openedAt, app.clock.business() - SHOWN_FOR_MS)))
		.orderBy(desc(disputes.openedAt), desc(disputes.id))
		.limit(SHOWN);
	return Promise.all(
		rows.map(async ({ dispute, payment, name }) => ({
			id: dispute.id,
			orderId: payment.orderId,
			memberId: payment.memberId,
			name,
			at: dispute.openedAt,
			amountMinor: dispute.amountMinor,
			currency: payment.currency,
			...(await presentPeriod(app, payment))
		}))
	);
}

/** The plan, and what the rest of the period that was paid last is worth: that period may be another than the disputed. */
async function presentPeriod(app: Using<'clock' | 'db'>, payment: typeof payments.$inferSelect) {
	const every = await agreementsOfOrder(app.db, payment.orderId);
	const own = every.filter(({ id }) => payment.agreementId === null || id === payment.agreementId);
	const [names, rests] = [[] as string[], [] as number[]];
	for (const row of own) {
		const { plan, restMinor } = await presentOf(app, payment.orderId, row);
		if (plan !== null) names.push(plan);
		rests.push(restMinor);
	}
	return { plan: names.join(', ') || null, restMinor: rests.reduce((sum, one) => sum + one, 0) };
}

async function presentOf(app: Using<'clock' | 'db'>, orderId: string, row: AgreementRow) {
	const [plan] = await app.db.select({ name: plans.name }).from(plans).where(eq(plans.id, row.planId));
	const [last] = await app.db
		.select({
			orderId: payments.orderId,
			agreementId: payments.agreementId,
			period: payments.period,
			amountMinor: payments.amountMinor
		})
		.from(payments)
		.where(
			and(
				or(
					eq(payments.agreementId, row.id),
					and(eq(payments.orderId, orderId), isNull(payments.agreementId))
				),
				eq(payments.state, 'captured')
			)
		)
		.orderBy(desc(payments.period))
		.limit(1);
	const share = last && (await sharesOf(app.db, last)).find(({ agreementId }) => agreementId === row.id);
	const paid = last && { period: last.period, amountMinor: share?.amountMinor ?? 0 };
	return {
		plan: plan?.name ?? null,
		restMinor: paid ? unusedOf(await courseNow(app.db, row), paid, app.clock.business()) : 0
	};
}
