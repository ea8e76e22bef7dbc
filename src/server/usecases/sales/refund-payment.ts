/**
 * Money that goes back, whole or in part.
 *
 * What is asked for is kept before the processor is, so that nothing is lost where it does not answer, and counts from then:
 * however many ask at once, no more is refunded than came in.
 */
import { and, eq, isNull, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { refundable } from '$core/billing/payment';
import { writeOfflineRefund } from '../../db/queries/offline';
import { lineById, paymentBehindLock, paymentById, refundById, refundsOf } from '../../db/queries/sales';
import { payments, refunds, type RefundCause } from '../../db/schema/sales';
import { need, type Staff } from '../../people/need';
import { RefundRefused } from '../../ports/payments';
import { transact, type Transacting, type Work } from '../../transact';
import { applyFact } from './settle-payment';
import type { Selling } from './selling';
import { tellAfterAll } from './tell-gift';

export interface RefundWish {
	/** Made by whoever asks: the same one twice is one refund. */
	id: string;
	paymentId: string;
	amountMinor: number;
	/** Whether access that the payment paid for ends with it. */
	endsAccess: boolean;
	/** For the publisher's own notes. */
	why: string;
}

export type Refunded =
	/** `isDone`: the processor has done it; else it is asked again until it has. */
	| { ok: true; isDone: boolean }
	/** `part-paid`: the rest is waited for; refusing the order gives back what came in. */
	| { ok: false; code: 'unknown' | 'nothing-left' | 'part-paid' }
	/** By the processor. */
	| { ok: false; code: 'refused' }
	| { ok: false; code: 'too-much'; leftMinor: number; currency: string };

export async function refundPayment(app: Selling, actor: Staff, wish: RefundWish): Promise<Refunded> {
	need(actor, 'refunds');
	const asked = await askRefund(app, actor, wish);
	if (!asked.ok) return asked;
	try {
		const is = await carryOutRefund(app, wish.id);
		return is === 'refused' ? { ok: false, code: 'refused' } : { ok: true, isDone: is === 'done' };
	} catch (error) {
		app.log.warn({ err: error, refundId: wish.id }, 'a refund is asked for again');
		// The job may have been faster.
		return { ok: true, isDone: (await refundById(app.db, wish.id))?.doneAt != null };
	}
}

/** Keeps what is asked for; a job asks the processor. */
export async function askRefund(
	app: Transacting,
	actor: Staff,
	wish: RefundWish
): Promise<Exclude<Refunded, { code: 'refused' }>> {
	need(actor, 'refunds');
	return transact<Exclude<Refunded, { code: 'refused' }>>(app, actor, async (work) => {
		const behind = await paymentBehindLock(work.tx, wish.paymentId);
		const payment = behind?.payment;
		if (!payment?.processorRef) return { ok: false, code: 'unknown' };
		if (behind?.order.state === 'part-paid') return { ok: false, code: 'part-paid' };
		const known = await refundById(work.tx, wish.id);
		if (known)
			return known.paymentId === payment.id ? { ok: true, isDone: false } : { ok: false, code: 'unknown' };
		const leftMinor = refundable(payment);
		if (leftMinor === 0) return { ok: false, code: 'nothing-left' };
		if (wish.amountMinor > leftMinor)
			return { ok: false, code: 'too-much', leftMinor, currency: payment.currency };
		await ask(work, { ...wish, cause: 'asked', why: wish.why, actorId: actor?.id ?? null });
		// Whoever asks for it sends it by hand.
		const { processorRef: ref, processor } = payment;
		const sent = { own: wish.id, ref, amountMinor: wish.amountMinor, doneAt: work.wall };
		if (processor === 'offline' && !(await writeOfflineRefund(work.tx, sent)))
			throw new Error(`So much of offline payment ${ref} is not there`);
		await work.note({
			action: 'asked-refund',
			subject: { kind: 'payment', id: payment.id },
			...(payment.memberId === null ? {} : { memberId: payment.memberId }),
			after: { amountMinor: wish.amountMinor, endsAccess: wish.endsAccess },
			why: wish.why
		});
		return { ok: true, isDone: false };
	});
}

/** Money that came in for nothing goes back: all of it that is there, or what has paid for one line of its order. */
export async function giveBack(app: Selling, paymentId: string, lineId: string | null): Promise<void> {
	if (lineId !== null) return giveLineBack(app, paymentId, lineId);
	await transact(app, null, async (work) => {
		const payment = (await paymentBehindLock(work.tx, paymentId))?.payment;
		const amountMinor = payment ? refundable(payment) : 0;
		if (amountMinor === 0) return;
		await ask(work, { id: uuidv7(), paymentId, amountMinor, endsAccess: true, cause: 'surplus' });
	});
}

/** Once, however often the job is run. */
async function giveLineBack(app: Selling, paymentId: string, lineId: string): Promise<void> {
	await transact(app, null, async (work) => {
		const payment = (await paymentBehindLock(work.tx, paymentId))?.payment;
		const line = await lineById(work.tx, lineId);
		if (!payment || !line) return;
		const isAsked = (await refundsOf(work.tx, paymentId)).some((one) => one.lineId === lineId);
		const amountMinor = Math.min(refundable(payment), line.totalMinor);
		if (isAsked || amountMinor === 0) return;
		// What else was bought with it stays.
		await ask(work, { id: uuidv7(), paymentId, amountMinor, endsAccess: false, cause: 'surplus', lineId });
	});
}

interface Asked {
	id: string;
	lineId?: string;
	paymentId: string;
	amountMinor: number;
	endsAccess: boolean;
	cause: RefundCause;
	why?: string;
	actorId?: string | null;
}

async function ask(work: Work, asked: Asked): Promise<void> {
	await work.tx.insert(refunds).values({ ...asked, askedAt: work.now });
	await work.tx
		.update(payments)
		.set({ refundedMinor: sql`${payments.refundedMinor} + ${asked.amountMinor}` })
		.where(eq(payments.id, asked.paymentId));
	// By no key: one that was refused may be asked for again under its name.
	await work.queue('refund', { refundId: asked.id });
}

/** `refused`: what was asked for is taken back. `to-send`: somebody has to send the money by hand, and say so. */
export type CarriedOut = 'done' | 'refused' | 'to-send';

/** Asks the processor, as often as it takes. */
export async function carryOutRefund(app: Selling, refundId: string): Promise<CarriedOut> {
	const refund = await refundById(app.db, refundId);
	if (!refund) return 'refused';
	if (refund.doneAt !== null) return 'done';
	const payment = await paymentById(app.db, refund.paymentId);
	if (!payment?.processorRef) throw new Error(`The payment of refund ${refundId} is gone`);
	const { processorRef: ref } = payment;
	const fact = await app.processors[payment.processor]
		.refund({ own: refundId, ref, amountMinor: refund.amountMinor })
		.catch((error: unknown) => {
			if (error instanceof RefundRefused) return null;
			throw error;
		});
	if (fact) await applyFact(app, payment.id, fact);
	else await takeBack(app, refundId);
	const now = await refundById(app.db, refundId);
	if (!fact) return 'refused';
	if (now?.doneAt != null) return 'done';
	if (payment.processor === 'offline') return 'to-send';
	throw new Error(`The processor does not report refund ${refundId}`);
}

async function takeBack(app: Selling, refundId: string): Promise<void> {
	await transact(app, null, async (work) => {
		const refund = await refundById(work.tx, refundId);
		const payment = refund && (await paymentBehindLock(work.tx, refund.paymentId))?.payment;
		if (!refund || !payment) return;
		const [gone] = await work.tx.delete(refunds).where(and(eq(refunds.id, refundId), isNull(refunds.doneAt)));
		if (gone.affectedRows === 0) return;
		await tellAfterAll(work, payment.orderId);
		await work.tx
			.update(payments)
			.set({ refundedMinor: sql`${payments.refundedMinor} - ${refund.amountMinor}` })
			.where(eq(payments.id, payment.id));
		await work.note({
			action: 'refund-refused',
			subject: { kind: 'payment', id: payment.id },
			...(payment.memberId === null ? {} : { memberId: payment.memberId }),
			before: { amountMinor: refund.amountMinor }
		});
	});
}
