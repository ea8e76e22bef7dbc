/** Payments that buyers' banks have taken back, and what the access that ended with them was worth still. */
import { and, desc, eq, gte } from 'drizzle-orm';
import { paidThrough, periodStart } from '$core/billing/phases';
import { restOf } from '$core/billing/proration';
import type { Using } from '../../app';
import { agreementOfOrder, courseNow, type AgreementRow } from '../../db/queries/agreements';
import { accounts } from '../../db/schema/people';
import { payments, plans } from '../../db/schema/sales';

const SHOWN_FOR_MS = 90 * 86_400_000;
const SHOWN = 20;

/** Those of the last three months that are not won. */
export async function openDisputes(app: Using<'clock' | 'db'>) {
	const rows = await app.db
		.select({ payment: payments, name: accounts.name })
		.from(payments)
		.innerJoin(accounts, eq(accounts.id, payments.memberId))
		.where(
			and(eq(payments.state, 'disputed'), gte(payments.takenBackAt, app.clock.business() - SHOWN_FOR_MS))
		)
		.orderBy(desc(payments.id))
		.limit(SHOWN);
	return Promise.all(
		rows.map(async ({ payment, name }) => ({
			id: payment.id,
			orderId: payment.orderId,
			memberId: payment.memberId,
			name,
			at: payment.takenBackAt ?? payment.createdAt,
			amountMinor: payment.amountMinor,
			currency: payment.currency,
			...(await presentPeriod(app, payment))
		}))
	);
}

/** The plan, and what the rest of the period that was paid last is worth: that period may be another than the disputed. */
async function presentPeriod(app: Using<'clock' | 'db'>, payment: typeof payments.$inferSelect) {
	const row = await agreementOfOrder(app.db, payment.orderId);
	if (!row) return { plan: null, restMinor: 0 };
	const [plan] = await app.db.select({ name: plans.name }).from(plans).where(eq(plans.id, row.planId));
	const [last] = await app.db
		.select({ period: payments.period, amountMinor: payments.amountMinor })
		.from(payments)
		.where(and(eq(payments.orderId, payment.orderId), eq(payments.state, 'captured')))
		.orderBy(desc(payments.period))
		.limit(1);
	return { plan: plan?.name ?? null, restMinor: last ? await worthNow(app, row, last) : 0 };
}

async function worthNow(
	app: Using<'clock' | 'db'>,
	row: AgreementRow,
	{ period, amountMinor }: { period: number; amountMinor: number }
): Promise<number> {
	const { phases, zone } = await courseNow(app.db, row);
	const [from, through] = [periodStart(phases, zone, period), paidThrough(phases, zone, period)];
	// What was paid once has no rest.
	if (from === null || through === null) return 0;
	return restOf(amountMinor, from, through, app.clock.business()).worthMinor;
}
