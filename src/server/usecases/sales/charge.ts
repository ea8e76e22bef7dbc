/** Executes a renewal's charge. The key makes the processor do it once, however often the job runs. */
import { eq } from 'drizzle-orm';
import type { PaymentState } from '$core/billing/payment';
import {
	paymentById,
	planById,
	priceVersionById,
	subscriptionById,
	type Payment
} from '../../db/queries/sales';
import { orderLines, payments } from '../../db/schema/sales';
import { applyFact } from './settle-payment';
import type { Selling } from './selling';

export async function chargeRenewal(
	app: Selling,
	ask: { subscriptionId: string; period: number; attempt: number }
): Promise<void> {
	const subscription = await subscriptionById(app.db, ask.subscriptionId);
	if (!subscription || subscription.state !== 'renewing') return;
	if (subscription.period !== ask.period || subscription.attempt !== ask.attempt) return;
	const price = await priceVersionById(app.db, subscription.priceVersionId);
	const plan = await planById(app.db, subscription.planId);
	const [line] = await app.db.select().from(orderLines).where(eq(orderLines.id, subscription.orderLineId));
	if (!line || !plan) throw new Error(`Subscription ${subscription.id} has lost its order`);
	const idempotencyKey = `subscription:${subscription.id}:${ask.period}:${ask.attempt}`;
	await app.db.insert(payments).ignore().values({
		memberId: subscription.memberId,
		orderId: line.orderId,
		subscriptionId: subscription.id,
		period: ask.period,
		attempt: ask.attempt,
		idempotencyKey,
		state: 'pending',
		amountMinor: price.amountMinor,
		currency: price.currency,
		createdAt: app.clock.business()
	});
	const fact = await app.payments.charge({
		key: idempotencyKey,
		cardRef: subscription.cardRef,
		amount: { minor: price.amountMinor, currency: price.currency },
		text: plan.name
	});
	const [payment] = await app.db.select().from(payments).where(eq(payments.idempotencyKey, idempotencyKey));
	if (!payment) throw new Error(`The payment ${idempotencyKey} is gone`);
	await app.db.update(payments).set({ processorRef: fact.ref }).where(eq(payments.id, payment.id));
	await applyFact(app, payment.id, fact);
}

/** As long after it was asked for, by the wall clock, a charge may still be under way somewhere. */
const UNDER_WAY_MS = 10 * 60_000;

/**
 * A charge without a reference: something broke off between asking for it and writing down what it was. Where the processor
 * has it, it counts as any other; where it does not, it never was.
 */
export async function findCharge(app: Selling, payment: Payment): Promise<PaymentState> {
	const fact = await app.payments.findCharge(payment.idempotencyKey);
	if (!fact) {
		const askedAt = msOfUuid(payment.id);
		if (app.clock.wall() - askedAt < UNDER_WAY_MS) return payment.state;
		const { amountMinor: minor, currency } = payment;
		const never = {
			ref: '',
			state: 'expired' as const,
			amount: { minor, currency },
			cardRef: null,
			when: {}
		};
		return applyFact(app, payment.id, never);
	}
	await app.db.update(payments).set({ processorRef: fact.ref }).where(eq(payments.id, payment.id));
	return applyFact(app, payment.id, fact);
}

/** When an id of version 7 was made (RFC 9562 §5.7). */
function msOfUuid(id: string): number {
	return parseInt(id.replaceAll('-', '').slice(0, 12), 16);
}

/** Money that came in for nothing goes back. */
export async function giveBack(app: Selling, paymentId: string): Promise<void> {
	const payment = await paymentById(app.db, paymentId);
	if (payment?.state !== 'captured' || !payment.processorRef) return;
	const fact = await app.payments.refund({ key: `give-back:${paymentId}`, ref: payment.processorRef });
	await applyFact(app, paymentId, fact);
}
