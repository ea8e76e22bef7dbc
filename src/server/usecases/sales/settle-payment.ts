/**
 * The one way in which what the processor says becomes money in the books, access, and access that ends.
 *
 * The return page, a notification, a renewal, a refund and the hourly reconciliation all come here: fetch the fact, lock the
 * order, book what is still missing.
 */
import { and, eq, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { BY_HAND, type AgreementEvent } from '$core/billing/agreement-facts';
import { orderAfter } from '$core/billing/order';
import { movementsTo, type DisputeState, type Movement, type PaymentState } from '$core/billing/payment';
import type { Using } from '../../app';
import { agreementsOfOrder } from '../../db/queries/agreements';
import {
	disputesOf,
	lockOrder,
	paymentById,
	paymentsOfOrder,
	refundsOf,
	type Order,
	type Payment
} from '../../db/queries/sales';
import type { SiteSettings } from '../../db/schema/running';
import { disputes, orders, payments, refunds } from '../../db/schema/sales';
import type { DisputeFact, PaymentFact, RefundFact } from '../../ports/payments';
import { transact, type Work, type Transacting } from '../../transact';
import { takeCard } from './change-card';
import { enterMoney } from './enter-money';
import { fulfil, withBuyer } from './fulfil-order';
import { hearOf } from './move-agreement';
import type { Selling } from './selling';
import { tellAfterAll } from './tell-gift';

/** What the processor says cannot be: nothing of it is booked, however often it says it. */
export class NotBelieved extends Error {
	readonly code = 'not-believed';
}

export interface Settled {
	state: PaymentState;
	/** Whether anything was booked. */
	hasMoved: boolean;
}

export async function settlePayment(app: Selling, payment: Payment): Promise<Settled> {
	const { processorRef: ref, amountMinor: minor, currency, state } = payment;
	if (!ref) return { state, hasMoved: false };
	const fact = await factOf(app, payment, ref);
	if (fact) return applyFact(app, payment.id, fact);
	if (state !== 'pending') return { state, hasMoved: false };
	// Nobody can pay on a page that the processor has forgotten: whoever comes back is given another.
	return applyFact(app, payment.id, neverPaid(ref, { minor, currency }));
}

/** The job. */
export async function settleById(app: Selling, paymentId: string): Promise<void> {
	const payment = await paymentById(app.db, paymentId);
	if (payment) await settlePayment(app, payment);
}

/** Where nothing is to be paid at first, what is asked for is the card. */
async function factOf(
	app: Selling,
	{ processor: name, amountMinor, currency }: Payment,
	ref: string
): Promise<PaymentFact | null> {
	const processor = app.processors[name];
	if (amountMinor > 0) return processor.fetch(ref);
	const kept = await processor.vault?.fetch(ref);
	if (!kept) return null;
	const { card, state } = kept;
	const amount = { minor: 0, currency };
	const isKept = state !== 'captured' || card !== null;
	return { ...neverPaid(ref, amount), state: isKept ? state : 'pending', card };
}

/** Of what nobody can pay any more. */
export function neverPaid(ref: string, amount: PaymentFact['amount']): PaymentFact {
	return { ref, state: 'expired', amount, card: null, settledAt: null, refunds: [], disputes: [] };
}

export async function applyFact(
	app: Transacting & Using<'site'>,
	paymentId: string,
	fact: PaymentFact
): Promise<Settled> {
	const site = await app.site();
	return transact(app, null, async (work) => {
		const known = await paymentById(work.tx, paymentId);
		if (!known) throw new Error(`There is no payment ${paymentId}`);
		const placed = await lockOrder(work.tx, known.orderId);
		// Read again behind the lock: somebody else may have settled it in the meantime.
		const payment = await paymentById(work.tx, paymentId);
		if (!payment) throw new Error(`There is no payment ${paymentId}`);
		refuseOther(payment, fact);
		const movements = movementsTo(await heldOf(work, payment), fact);
		const isPaid = movements.some(({ kind }) => kind === 'captured');
		const order = isPaid ? await withBuyer(work, placed) : placed;
		const booking = { work, site, order, fact };
		for (const movement of movements) await book(booking, await ofBuyer(work, paymentId, order), movement);
		const now = await paymentById(work.tx, paymentId);
		return { state: now?.state ?? payment.state, hasMoved: movements.length > 0 };
	});
}

/** The payment as it is by now, with who paid it. */
async function ofBuyer({ tx }: Work, paymentId: string, { memberId }: Order): Promise<Payment> {
	const payment = await paymentById(tx, paymentId);
	if (!payment) throw new Error(`There is no payment ${paymentId}`);
	return { ...payment, memberId };
}

function refuseOther({ id, amountMinor, currency }: Payment, { amount, refunds }: PaymentFact): void {
	if (amount.minor !== amountMinor || amount.currency !== currency)
		throw new NotBelieved(`Payment ${id} was made over another amount than was asked`);
	const back = refunds.reduce((sum, refund) => sum + refund.amountMinor, 0);
	if (back > amountMinor) throw new NotBelieved(`More of payment ${id} was refunded than came in`);
}

async function heldOf({ tx }: Work, { id, state }: Payment) {
	const back = await refundsOf(tx, id);
	return {
		state,
		refunds: back.flatMap(({ ref, amountMinor }) => (ref === null ? [] : [{ ref, amountMinor }])),
		disputes: await disputesOf(tx, id)
	};
}

interface Booking {
	work: Work;
	site: SiteSettings;
	order: Order;
	fact: PaymentFact;
}

async function book(
	booking: Booking,
	payment: Payment,
	movement: Movement<RefundFact, DisputeFact>
): Promise<void> {
	if (movement.kind !== 'refunded') await noteOf(booking.work, payment, movement.kind, movement);
	switch (movement.kind) {
		case 'declined':
		case 'expired':
		case 'captured':
			return bookCharge(booking, payment, movement.kind);
		case 'refunded':
			return bookRefund(booking, payment, movement.refund);
		case 'disputed':
			return bookDispute(booking, payment, movement.dispute);
		case 'won':
		case 'lost':
			return bookDecided(booking, payment, movement.dispute, movement.kind);
	}
}

async function noteOf(work: Work, payment: Payment, what: string, after: unknown): Promise<void> {
	await work.note({
		action: `payment-${what}`,
		subject: { kind: 'payment', id: payment.id },
		...(payment.memberId === null ? {} : { memberId: payment.memberId }),
		after
	});
}

async function bookCharge(
	{ work, site, order, fact }: Booking,
	payment: Payment,
	kind: 'declined' | 'expired' | 'captured'
): Promise<void> {
	const { id, period, attempt } = payment;
	await work.tx
		.update(payments)
		.set({ state: kind, settledAt: work.now })
		.where(and(eq(payments.id, id), eq(payments.state, payment.state)));
	if (kind === 'captured') {
		if (payment.amountMinor > 0) await enterMoney(work, site, payment, { kind: 'payment' });
		if (payment.agreementId === null && (await isPart(work, order))) return keepPart(work, order);
		if (payment.agreementId === null) return fulfil(work, site, order, { payment, card: fact.card });
	}
	const isByHand = attempt >= BY_HAND;
	if (kind !== 'expired')
		await tell(work, payment, { kind, period, attempt }, momentOf(work, payment, fact.settledAt));
	// After it is heard of: what was owed is not asked for again.
	if (kind === 'captured' && isByHand && payment.agreementId !== null && fact.card)
		await takeCard(work, payment.agreementId, fact.card);
}

/** Whether more is to come in before an order is paid. */
async function isPart({ tx }: Work, order: Order): Promise<boolean> {
	const came = (await paymentsOfOrder(tx, order.id))
		.filter(({ state, agreementId }) => state === 'captured' && agreementId === null)
		.reduce((sum, { amountMinor }) => sum + amountMinor, 0);
	return came < order.totalMinor;
}

/** The rest is waited for, and its buyer is told how much that is. */
async function keepPart(work: Work, order: Order): Promise<void> {
	const { id, state, memberId } = order;
	const next = orderAfter(state, 'part');
	if (next) await work.tx.update(orders).set({ state: next }).where(eq(orders.id, id));
	const about = { occasion: 'order-waits' as const, orderId: id };
	await work.queue('mail', about, memberId === null ? {} : { memberId });
}

/** One that Stile asked for is done now; one that was done at the processor ends access where nothing is left. */
async function bookRefund({ work, site }: Booking, payment: Payment, fact: RefundFact): Promise<void> {
	const { period, attempt } = payment;
	const at = momentOf(work, payment, fact.at);
	const asked = await askedFor(work, payment, fact);
	const id = asked?.id ?? uuidv7();
	const done = { ref: fact.ref, doneAt: work.now };
	const amountMinor = payment.refundedMinor + (asked ? 0 : fact.amountMinor);
	const endsAccess = asked?.endsAccess ?? amountMinor >= payment.amountMinor;
	if (asked) await work.tx.update(refunds).set(done).where(eq(refunds.id, id));
	else {
		const outside = { cause: 'outside' as const, amountMinor: fact.amountMinor, endsAccess, askedAt: at };
		await work.tx.insert(refunds).values({ id, paymentId: payment.id, ...outside, ...done });
		await work.tx.update(payments).set({ refundedMinor: amountMinor }).where(eq(payments.id, payment.id));
	}
	const lineId = asked?.lineId ?? null;
	await enterMoney(work, site, payment, { kind: 'refund', id, amountMinor: fact.amountMinor, lineId });
	// Whoever goes on has not left, and what came in for nothing was nobody's access.
	const isLeaving = endsAccess && asked?.cause !== 'surplus';
	await noteOf(work, payment, isLeaving ? 'refunded' : 'credited', {
		amountMinor: fact.amountMinor,
		endsAccess
	});
	const event = {
		kind: 'refunded' as const,
		period,
		attempt,
		...(endsAccess ? {} : { keepsAccess: true as const })
	};
	// What went back of one thing was never begun: the others are as they were.
	if (lineId === null) await tell(work, payment, event, at, id);
	// Of what came in for nothing another mail has told.
	if (asked?.cause === 'surplus' || payment.memberId === null) return;
	const about = { occasion: 'refund' as const, refundId: id };
	await work.queue('mail', about, { key: `mail:refund:${id}`, memberId: payment.memberId });
}

async function askedFor({ tx }: Work, { id }: Payment, { own, amountMinor }: RefundFact) {
	if (own === null) return null;
	const [asked] = await tx
		.select()
		.from(refunds)
		.where(and(eq(refunds.id, own), eq(refunds.paymentId, id), isNull(refunds.doneAt)));
	if (asked && asked.amountMinor !== amountMinor)
		throw new NotBelieved(`Refund ${own} was made over another amount than was asked`);
	return asked ?? null;
}

async function bookDispute({ work, site }: Booking, payment: Payment, fact: DisputeFact): Promise<void> {
	const { period, attempt } = payment;
	const id = uuidv7();
	const { ref, amountMinor } = fact;
	const at = momentOf(work, payment, fact.openedAt);
	await work.tx
		.insert(disputes)
		.values({ id, paymentId: payment.id, ref, amountMinor, state: 'open', openedAt: at });
	await setDispute(work, payment, 'open');
	await enterMoney(work, site, payment, { kind: 'dispute', id, amountMinor });
	await tell(work, payment, { kind: 'disputed', period, attempt }, at, id);
}

async function bookDecided(
	{ work, site }: Booking,
	payment: Payment,
	{ ref, closedAt }: DisputeFact,
	state: 'won' | 'lost'
): Promise<void> {
	const { period, attempt } = payment;
	const [dispute] = await work.tx.select().from(disputes).where(eq(disputes.ref, ref));
	if (!dispute) throw new Error(`There is no dispute ${ref}`);
	const at = momentOf(work, payment, closedAt);
	await work.tx.update(disputes).set({ state, closedAt: at }).where(eq(disputes.id, dispute.id));
	await setDispute(work, payment, state);
	if (state === 'lost') return;
	await enterMoney(work, site, payment, { kind: 'won', id: dispute.id });
	await tellAfterAll(work, payment.orderId);
	await tell(work, payment, { kind: 'won', period, attempt }, at, dispute.id);
}

async function setDispute({ tx }: Work, { id }: Payment, dispute: DisputeState): Promise<void> {
	await tx.update(payments).set({ dispute }).where(eq(payments.id, id));
}

/** @param source what it is of, where a payment may have several */
async function tell(
	work: Work,
	{ agreementId, orderId }: Payment,
	event: AgreementEvent,
	at: number,
	source: string | null = null
): Promise<void> {
	const ids =
		agreementId === null ? (await agreementsOfOrder(work.tx, orderId)).map((one) => one.id) : [agreementId];
	for (const id of ids) await hearOf(work, id, event, at, source);
}

/**
 * When something happened, by the business clock: the processor says it by the wall clock. Nothing happens to a payment before
 * it was asked for, however the processor's clock goes.
 */
function momentOf({ now, wall }: Work, { createdAt }: Payment, at: number | null): number {
	return at === null ? now : Math.max(createdAt, now - Math.max(0, wall - at));
}
