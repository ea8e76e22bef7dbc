/** What is owed is paid by hand, with another card: it is charged to that card from then on. */
import { and, eq, gte } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { owedNow } from '$core/billing/agreement-answers';
import { BY_HAND } from '$core/billing/agreement-facts';
import type { PaymentState } from '$core/billing/payment';
import type { Using } from '../../app';
import { agreementById, courseNow, ownAgreement } from '../../db/queries/agreements';
import { lineById, lockOrder, paymentById, planById, type Payment } from '../../db/queries/sales';
import { payments } from '../../db/schema/sales';
import { transact, type Work } from '../../transact';
import { payPage } from './pay-page';
import { settlePayment } from './settle-payment';
import type { Selling } from './selling';

export type PaidByHand = { ok: true; payUrl: string } | { ok: false; code: 'unknown' | 'nothing-due' };

/** Leads a member to the processor's page for what is owed; however often it is asked for, there is one page. */
export async function payNow(
	app: Selling & Using<'settings'>,
	memberId: string,
	agreementId: string
): Promise<PaidByHand> {
	const row = await ownAgreement(app.db, memberId, agreementId);
	if (!row) return { ok: false, code: 'unknown' };
	const payment = await transact(app, { id: memberId }, (work) => paymentByHand(work, agreementId));
	if (!payment) return { ok: false, code: 'nothing-due' };
	const plan = await planById(app.db, row.planId);
	const to = { plan, returnPath: `/account/paid/${payment.id}` };
	return { ok: true, payUrl: await payPage(app, payment, to) };
}

/** The one that is under way, or another one where the last was declined or its page has ended. */
async function paymentByHand(work: Work, agreementId: string): Promise<Payment | null> {
	const { tx, now } = work;
	const known = await agreementById(tx, agreementId);
	const line = known && (await lineById(tx, known.orderLineId));
	if (!line) return null;
	await lockOrder(tx, line.orderId);
	const row = await agreementById(tx, agreementId);
	const owed = row && owedNow(await courseNow(tx, row));
	if (!owed) return null;
	const { period, amountMinor, currency } = owed;
	const before = await tx
		.select()
		.from(payments)
		.where(and(eq(payments.agreementId, row.id), eq(payments.period, period), gte(payments.attempt, BY_HAND)))
		.orderBy(payments.attempt);
	const last = before.at(-1);
	if (last?.state === 'pending') return last;
	const id = uuidv7();
	const attempt = BY_HAND + before.length;
	await tx.insert(payments).values({
		...{ id, memberId: row.memberId, orderId: line.orderId, agreementId: row.id, period, attempt },
		...{
			idempotencyKey: `by-hand:${id}`,
			processor: row.processor,
			state: 'pending' as const,
			amountMinor,
			currency,
			createdAt: now
		}
	});
	return paymentById(tx, id);
}

/** What became of a payment by hand that this member made; `null`: there is none. */
export async function settleOwnPayment(
	app: Selling,
	memberId: string,
	paymentId: string
): Promise<PaymentState | null> {
	if (!/^[0-9a-f-]{36}$/.test(paymentId)) return null;
	const payment = await paymentById(app.db, paymentId);
	return payment?.memberId === memberId ? (await settlePayment(app, payment)).state : null;
}
