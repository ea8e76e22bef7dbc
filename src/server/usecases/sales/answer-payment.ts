/** Money that is paid offline: somebody says that it came in, or did not, and that what goes back was sent. */
import { and, eq, isNotNull, lt } from 'drizzle-orm';
import { paymentBehindLock, refundById, type Order, type Payment } from '../../db/queries/sales';
import { answerOffline, sentOffline } from '../../db/queries/offline';
import { payments } from '../../db/schema/sales';
import { need, type Staff } from '../../people/need';
import { transact, type Transacting, type Work } from '../../transact';
import { endOrder, OFFLINE_WAITS_MS } from './end-pay-page';
import { carryOutRefund } from './refund-payment';
import { settlePayment } from './settle-payment';
import type { Selling } from './selling';

export interface Answer {
	paymentId: string;
	state: 'captured' | 'declined';
	/** For the buyer, where it is refused. */
	why: string;
}

/** `not-waiting`: somebody has said so before, or nobody waits for it any more. */
export type Answered = { ok: true } | { ok: false; code: 'not-waiting' };

export async function answerPayment(app: Selling, actor: Staff, answer: Answer): Promise<Answered> {
	need(actor, 'payments');
	return write(app, actor, answer);
}

/** What somebody says is written down; a job settles it. */
export async function sayPayment(app: Transacting, actor: Staff, answer: Answer): Promise<Answered> {
	need(actor, 'payments');
	return (await keepAnswer(app, actor, answer)) ? { ok: true } : { ok: false, code: 'not-waiting' };
}

async function write(app: Selling, actor: Staff, answer: Answer): Promise<Answered> {
	const { paymentId } = answer;
	const answered = await keepAnswer(app, actor, answer);
	if (!answered) return { ok: false, code: 'not-waiting' };
	await settlePayment(app, answered).catch((error: unknown) =>
		app.log.warn({ err: error, paymentId }, 'a payment is settled again')
	);
	return { ok: true };
}

async function keepAnswer(
	app: Transacting,
	actor: Staff,
	{ paymentId, state, why }: Answer
): Promise<Payment | null> {
	return transact(app, actor, async (work): Promise<Payment | null> => {
		const known = await paymentBehindLock(work.tx, paymentId);
		if (!known || !isWaitedFor(known)) return null;
		const { payment, order } = known;
		const { processorRef: ref, memberId, agreementId } = payment;
		if (ref === null || !(await answerOffline(work.tx, ref, state, work.wall))) return null;
		await work.note({
			action: state === 'captured' ? 'approved-payment' : 'refused-payment',
			subject: { kind: 'payment', id: paymentId },
			...(memberId === null ? {} : { memberId }),
			...(why === '' ? {} : { why })
		});
		if (state === 'declined' && agreementId === null) await refuse(work, order, why);
		// Where this process ends before it has settled it.
		await work.queue('settle', { paymentId });
		return payment;
	});
}

/** An order is looked at once it is known that its buyer's mailbox is theirs. */
export function isWaitedFor({ payment, order }: { payment: Payment; order: Order }): boolean {
	if (payment.processor !== 'offline' || payment.state !== 'pending') return false;
	return payment.agreementId !== null || (order.state === 'waiting' && order.stoodByAt !== null);
}

async function refuse(work: Work, order: Order, why: string): Promise<void> {
	await endOrder(work, order, 'refused');
	if (order.memberId === null) return;
	const about = { occasion: 'order-refused' as const, orderId: order.id, why };
	await work.queue('mail', about, { key: `mail:order-refused:${order.id}`, memberId: order.memberId });
}

/** Money that goes back by hand is on its way. */
export async function sayRefundSent(app: Selling, actor: Staff, refundId: string): Promise<Answered> {
	need(actor, 'payments');
	const isSent = await transact(app, actor, async (work) => {
		const refund = await refundById(work.tx, refundId);
		const known = refund && (await paymentBehindLock(work.tx, refund.paymentId));
		if (!refund || !known || !(await sentOffline(work.tx, refundId, work.wall))) return false;
		const { id, memberId } = known.payment;
		await work.note({
			action: 'sent-refund',
			subject: { kind: 'payment', id },
			...(memberId === null ? {} : { memberId }),
			after: { amountMinor: refund.amountMinor }
		});
		await work.queue('refund', { refundId });
		return true;
	});
	if (!isSent) return { ok: false, code: 'not-waiting' };
	await carryOutRefund(app, refundId).catch((error: unknown) =>
		app.log.warn({ err: error, refundId }, 'a refund is booked again')
	);
	return { ok: true };
}

const AT_ONCE = 200;

/** What members were asked for and have not paid in time counts as declined: what it is for lapses. */
export async function expireAsked(app: Selling): Promise<void> {
	const old = await app.db
		.select({ id: payments.id })
		.from(payments)
		.where(
			and(
				eq(payments.state, 'pending'),
				eq(payments.processor, 'offline'),
				isNotNull(payments.agreementId),
				lt(payments.createdAt, app.clock.business() - OFFLINE_WAITS_MS)
			)
		)
		.limit(AT_ONCE);
	for (const { id } of old) await write(app, null, { paymentId: id, state: 'declined', why: '' });
}
