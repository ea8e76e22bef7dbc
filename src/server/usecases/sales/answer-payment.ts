/** Money that is paid offline: somebody says that it came in, or did not, and that what goes back was sent. */
import { and, eq, isNotNull, lt } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { isAwaited } from '$core/billing/order';
import { paymentBehindLock, refundById, type Order, type Payment } from '../../db/queries/sales';
import { answerOffline, sentOffline } from '../../db/queries/offline';
import { offlinePayments, payments } from '../../db/schema/sales';
import { need, type Staff } from '../../people/need';
import { transact, type Transacting, type Work } from '../../transact';
import { endOrder, OFFLINE_WAITS_MS } from './end-pay-page';
import { carryOutRefund } from './refund-payment';
import { settlePayment } from './settle-payment';
import type { Selling } from './selling';

export interface Answer {
	paymentId: string;
	state: 'captured' | 'declined';
	/** What came in, where that is less than was asked for: the order is paid in part, and the rest is waited for. */
	amountMinor?: number;
	/** For the buyer, where it is refused. */
	why: string;
}

/**
 * `not-waiting`: somebody has said so before, or nobody waits for it any more. `too-much`: more than was asked for. `whole-only`:
 * of what is due of an agreement, and of a move, no part is taken.
 */
export type Answered = { ok: true } | { ok: false; code: AnswerProblem };
export type AnswerProblem = 'not-waiting' | 'too-much' | 'whole-only';

export async function answerPayment(app: Selling, actor: Staff, answer: Answer): Promise<Answered> {
	need(actor, 'payments');
	return write(app, actor, answer);
}

/** What somebody says is written down; a job settles it. */
export async function sayPayment(app: Transacting, actor: Staff, answer: Answer): Promise<Answered> {
	need(actor, 'payments');
	const kept = await keepAnswer(app, actor, answer);
	return typeof kept === 'string' ? { ok: false, code: kept } : { ok: true };
}

async function write(app: Selling, actor: Staff, answer: Answer): Promise<Answered> {
	const { paymentId } = answer;
	const answered = await keepAnswer(app, actor, answer);
	if (typeof answered === 'string') return { ok: false, code: answered };
	await settlePayment(app, answered).catch((error: unknown) =>
		app.log.warn({ err: error, paymentId }, 'a payment is settled again')
	);
	return { ok: true };
}

async function keepAnswer(
	app: Transacting,
	actor: Staff,
	{ paymentId, state, amountMinor, why }: Answer
): Promise<Payment | AnswerProblem> {
	return transact(app, actor, async (work): Promise<Payment | AnswerProblem> => {
		const known = await paymentBehindLock(work.tx, paymentId);
		if (!known || !isWaitedFor(known)) return 'not-waiting';
		const { payment, order } = known;
		const { processorRef: ref, memberId, agreementId } = payment;
		if (ref === null) return 'not-waiting';
		const came = state === 'captured' ? (amountMinor ?? payment.amountMinor) : payment.amountMinor;
		if (came > payment.amountMinor || came < 1) return 'too-much';
		const isPart = came < payment.amountMinor;
		if (isPart && (agreementId !== null || order.movesId !== null)) return 'whole-only';
		if (!(await answerOffline(work.tx, ref, state, work.wall))) return 'not-waiting';
		if (isPart) await takePart(work, payment, ref, came);
		await work.note({
			action: state === 'captured' ? 'approved-payment' : 'refused-payment',
			subject: { kind: 'payment', id: paymentId },
			...(memberId === null ? {} : { memberId }),
			...(isPart ? { after: { amountMinor: came, restMinor: payment.amountMinor - came } } : {}),
			...(why === '' ? {} : { why })
		});
		if (state === 'declined' && agreementId === null) await refuse(work, order, why);
		// Where this process ends before it has settled it.
		await work.queue('settle', { paymentId });
		return payment;
	});
}

/** The payment becomes what came in, and another one waits for the rest. */
async function takePart({ tx, now }: Work, payment: Payment, ref: string, came: number): Promise<void> {
	const { id, memberId, orderId, period, attempt, processor, payUrl, amountMinor, currency } = payment;
	await tx.update(payments).set({ amountMinor: came }).where(eq(payments.id, id));
	await tx.update(offlinePayments).set({ amountMinor: came }).where(eq(offlinePayments.ref, ref));
	const restMinor = amountMinor - came;
	const rest = { idempotencyKey: `rest:${id}`, state: 'pending' as const, amountMinor: restMinor, currency };
	const processorRef = `offline-${uuidv7()}`;
	await tx.insert(offlinePayments).values({ ref: processorRef, ...rest });
	await tx.insert(payments).values({
		...{ ...rest, memberId, orderId, period, attempt, processor, processorRef, payUrl },
		// The one that is waited for is the last.
		createdAt: Math.max(now, payment.createdAt + 1)
	});
}

/** An order is looked at once it is known that its buyer's mailbox is theirs. */
export function isWaitedFor({ payment, order }: { payment: Payment; order: Order }): boolean {
	if (payment.processor !== 'offline' || payment.state !== 'pending') return false;
	return payment.agreementId !== null || (isAwaited(order.state) && order.stoodByAt !== null);
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
