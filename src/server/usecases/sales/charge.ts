/**
 * Executes a renewal's charge, or asks a member for it who pays by themselves. The key makes the processor do it once, however
 * often the job runs.
 */
import { eq } from 'drizzle-orm';
import { amountAsked, phaseOf } from '$core/billing/phases';
import { agreementById, courseNow } from '../../db/queries/agreements';
import { planById, type Payment } from '../../db/queries/sales';
import { orderLines, payments } from '../../db/schema/sales';
import type { PaymentFact } from '../../ports/payments';
import { transact } from '../../transact';
import { applyFact, neverPaid, type Settled } from './settle-payment';
import type { Selling } from './selling';

export async function chargeRenewal(
	app: Selling,
	ask: { agreementId: string; period: number; attempt: number }
): Promise<void> {
	const agreement = await agreementById(app.db, ask.agreementId);
	if (!agreement) return;
	const isAsking = agreement.state === 'renewing' || agreement.state === 'owing';
	if (!isAsking || agreement.period !== ask.period || agreement.attempt !== ask.attempt) return;
	const { phases } = await courseNow(app.db, agreement);
	const minor = amountAsked(phases, ask.period);
	if (minor === null) return;
	const { cardRef, processor } = agreement;
	const { currency } = phaseOf(phases, ask.period).terms;
	const plan = await planById(app.db, agreement.planId);
	const [line] = await app.db.select().from(orderLines).where(eq(orderLines.id, agreement.orderLineId));
	if (!line || !plan) throw new Error(`Agreement ${agreement.id} has lost its order`);
	const idempotencyKey = `subscription:${agreement.id}:${ask.period}:${ask.attempt}`;
	await app.db.insert(payments).ignore().values({
		memberId: agreement.memberId,
		orderId: line.orderId,
		agreementId: agreement.id,
		period: ask.period,
		attempt: ask.attempt,
		idempotencyKey,
		processor,
		state: 'pending',
		amountMinor: minor,
		currency,
		createdAt: app.clock.business()
	});
	const [payment] = await app.db.select().from(payments).where(eq(payments.idempotencyKey, idempotencyKey));
	if (!payment) throw new Error(`The payment ${idempotencyKey} is gone`);
	if (minor === 0) return void (await applyFact(app, payment.id, paidForNothing(payment)));
	const fact = await app.processors[processor].charge({
		key: idempotencyKey,
		cardRef,
		amount: { minor, currency },
		text: plan.name
	});
	await app.db.update(payments).set({ processorRef: fact.ref }).where(eq(payments.id, payment.id));
	const { state } = await applyFact(app, payment.id, fact);
	if (state === 'pending' && processor === 'offline')
		await transact(app, null, (work) =>
			work.queue(
				'mail',
				{ occasion: 'to-pay', paymentId: payment.id },
				{ key: `mail:to-pay:${payment.id}`, memberId: agreement.memberId }
			)
		);
}

/** Where everything is taken off, nobody is asked for anything. */
function paidForNothing({ currency }: Payment): PaymentFact {
	return { ...neverPaid('', { minor: 0, currency }), state: 'captured' };
}

/** As long after it was asked for, by the wall clock, a charge may still be under way somewhere. */
const UNDER_WAY_MS = 10 * 60_000;

/**
 * A charge without a reference: something broke off between asking for it and writing down what it was. Where the processor
 * has it, it counts as any other; where it does not, it never was.
 */
export async function findCharge(app: Selling, payment: Payment): Promise<Settled> {
	if (payment.amountMinor === 0 && payment.agreementId !== null)
		return applyFact(app, payment.id, paidForNothing(payment));
	const fact = await app.processors[payment.processor].findCharge(payment.idempotencyKey);
	if (!fact) {
		const askedAt = msOfUuid(payment.id);
		if (app.clock.wall() - askedAt < UNDER_WAY_MS) return { state: payment.state, hasMoved: false };
		const { amountMinor: minor, currency } = payment;
		return applyFact(app, payment.id, neverPaid('', { minor, currency }));
	}
	await app.db.update(payments).set({ processorRef: fact.ref }).where(eq(payments.id, payment.id));
	return applyFact(app, payment.id, fact);
}

/** When an id of version 7 was made (RFC 9562 §5.7). */
function msOfUuid(id: string): number {
	return parseInt(id.replaceAll('-', '').slice(0, 12), 16);
}
