/**
 * The one way in which money becomes access, and access ends with money given back.
 *
 * The return page, a notification, a renewal and the hourly reconciliation all come here: fetch the fact, lock the order,
 * book the steps that are still missing.
 */
import { and, eq, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { LedgerKind } from '$core/billing/ledger';
import { stepsTo, type PaymentState, type PaymentStep } from '$core/billing/payment';
import { courseOf, joinedAt } from '$core/billing/agreement';
import type { Using } from '../../app';
import {
	accountByEmail,
	accountById,
	keepFirstDay,
	lockAccount,
	type Account
} from '../../db/queries/members';
import { agreementById, agreementOfOrder, livingAgreements } from '../../db/queries/agreements';
import {
	lineOf,
	lockOrder,
	paymentById,
	planById,
	priceVersionById,
	type Order,
	type Payment
} from '../../db/queries/sales';
import { grants } from '../../db/schema/access';
import type { SiteSettings } from '../../db/schema/running';
import { accounts } from '../../db/schema/people';
import { agreements, orders, payments } from '../../db/schema/sales';
import type { PaymentFact } from '../../ports/payments';
import { transact, type Work, type Transacting } from '../../transact';
import { enterMoney } from './enter-money';
import { endUnproved } from '../accounts/proving';
import { beginAgreement, hearOf, outcomeOf } from './move-agreement';
import type { Selling } from './selling';

export async function settlePayment(app: Selling, payment: Payment): Promise<PaymentState> {
	if (!payment.processorRef) return payment.state;
	const fact = await app.payments.fetch(payment.processorRef);
	if (fact) return applyFact(app, payment.id, fact);
	if (payment.state !== 'pending') return payment.state;
	// Nobody can pay on a page that the processor has forgotten: whoever comes back is given another.
	const { processorRef: ref, amountMinor: minor, currency } = payment;
	return applyFact(app, payment.id, {
		ref,
		state: 'expired',
		amount: { minor, currency },
		cardRef: null,
		when: {}
	});
}

export async function applyFact(
	app: Transacting & Using<'site'>,
	paymentId: string,
	fact: PaymentFact
): Promise<PaymentState> {
	const site = await app.site();
	return transact(app, null, async (work) => {
		const known = await paymentById(work.tx, paymentId);
		if (!known) throw new Error(`There is no payment ${paymentId}`);
		const placed = await lockOrder(work.tx, known.orderId);
		// Read again behind the lock: somebody else may have settled it in the meantime.
		const payment = await paymentById(work.tx, paymentId);
		if (!payment) throw new Error(`There is no payment ${paymentId}`);
		const isSameAmount =
			fact.amount.minor === payment.amountMinor && fact.amount.currency === payment.currency;
		if (!isSameAmount) throw new Error(`Payment ${paymentId} was made over another amount than was asked`);
		let held = payment.state;
		const steps = stepsTo(payment.state, fact.state);
		const isPaid = steps.includes('captured');
		const order = isPaid ? await withBuyer(work, placed) : placed;
		for (const step of steps) {
			await book(work, site, order, { ...payment, memberId: order.memberId }, held, step, fact);
			held = step;
		}
		return held;
	});
}

/** Whoever pays is a member from now on: the one who was signed in, or the one of the address, who may be new. */
async function withBuyer({ tx, now }: Work, order: Order): Promise<Order> {
	if (order.memberId !== null || order.email === null) return order;
	const id = uuidv7();
	const { email, typedName } = order;
	await tx
		.insert(accounts)
		.ignore()
		.values({
			id,
			email,
			name: typedName || email,
			isNameTyped: typedName !== null,
			role: 'member',
			createdAt: now
		});
	const account = await accountByEmail(tx, email);
	if (!account) throw new Error('The account was not written');
	await tx.update(orders).set({ memberId: account.id }).where(eq(orders.id, order.id));
	await tx.update(payments).set({ memberId: account.id }).where(eq(payments.orderId, order.id));
	return { ...order, memberId: account.id };
}

async function book(
	work: Work,
	site: SiteSettings,
	order: Order,
	payment: Payment,
	held: PaymentState,
	step: PaymentStep,
	fact: PaymentFact
): Promise<void> {
	const isTakenBack = step === 'refunded' || step === 'disputed';
	const [moved] = await work.tx
		.update(payments)
		.set({
			state: step,
			...(isTakenBack
				? { takenBackAt: work.now }
				: step === 'won'
					? { takenBackAt: null }
					: { settledAt: work.now })
		})
		.where(and(eq(payments.id, payment.id), eq(payments.state, held)));
	if (moved.affectedRows !== 1) throw new Error(`Payment ${payment.id} is not ${held} any more`);
	await work.note({
		action: `payment-${step}`,
		subject: { kind: 'payment', id: payment.id },
		...(payment.memberId === null ? {} : { memberId: payment.memberId }),
		before: held,
		after: step
	});
	const entry = ENTRY[step];
	if (entry) await enterMoney(work, site, payment, entry);
	if (payment.agreementId === null && step === 'captured') return fulfil(work, site, order, payment, fact);
	const id = payment.agreementId ?? (await agreementOfOrder(work.tx, order.id))?.id;
	if (id === undefined || step === 'expired') return;
	const { period, attempt } = payment;
	await hearOf(work, id, { kind: step, period, attempt }, momentOf(work, payment, fact, step));
}

/** What of a step stands in the books. */
const ENTRY: Record<PaymentStep, LedgerKind | null> = {
	declined: null,
	expired: null,
	captured: 'payment',
	refunded: 'refund',
	disputed: 'dispute',
	won: 'won'
};

/**
 * When a step happened, by the business clock: the processor says it by the wall clock. Nothing happens to a payment before
 * it was asked for, however the processor's clock goes.
 */
function momentOf(
	{ now, wall }: Work,
	{ createdAt }: Payment,
	{ when }: PaymentFact,
	step: PaymentStep
): number {
	const at = when[step];
	return at === undefined ? now : Math.max(createdAt, now - Math.max(0, wall - at));
}

/** An order that is paid: one grant for its line, an agreement, the first day, a mail that leads straight in. */
async function fulfil(
	work: Work,
	{ zone }: SiteSettings,
	order: Order,
	payment: Payment,
	fact: PaymentFact
): Promise<void> {
	const { memberId } = order;
	if (memberId === null) throw new Error(`Order ${order.id} was paid by nobody`);
	await lockAccount(work.tx, memberId);
	const account = await accountById(work.tx, memberId);
	const line = await lineOf(work.tx, order.id);
	const living = await livingAgreements(work.tx, memberId, work.now);
	const holds = living.some((agreement) => agreement.planId === line.planId);
	const plan = await planById(work.tx, line.planId);
	const { terms } = await priceVersionById(work.tx, line.priceVersionId);
	const isMore = terms.then.kind === 'more';
	if (!account || !plan || holds || (isMore && !fact.cardRef))
		return giveBackOrder(work, order, payment, memberId);
	const agreed = { planId: plan.id, terms, access: plan.access };
	const { period, attempt } = payment;
	const beginning = { ...joinedAt(work.now), paid: [{ period, attempt }] };
	const grantId = uuidv7();
	const agreementId = uuidv7();
	await claimOrEnd(work, order, account);
	await work.tx.insert(grants).values({
		id: grantId,
		memberId,
		planId: line.planId,
		from: work.now,
		source: isMore ? 'subscription' : 'order',
		orderLineId: line.id
	});
	await work.tx.insert(agreements).values({
		id: agreementId,
		memberId,
		orderLineId: line.id,
		priceVersionId: line.priceVersionId,
		agreed,
		grantId,
		beginning,
		cardRef: fact.cardRef,
		anchor: work.now,
		zone,
		...outcomeOf(courseOf({ ...agreed, start: work.now, zone }, beginning, []))
	});
	await keepFirstDay(work.tx, memberId, line.planId, work.now);
	await work.tx
		.update(orders)
		.set({ state: 'paid', openKey: null, paidAt: work.now, typedPasswordHash: null })
		.where(eq(orders.id, order.id));
	const agreement = await agreementById(work.tx, agreementId);
	if (!agreement) throw new Error('The agreement was not written');
	await beginAgreement(work, agreement);
	await work.note({
		action: 'granted',
		subject: { kind: 'grant', id: grantId },
		memberId,
		after: { planId: line.planId, order: order.number }
	});
	await work.queue(
		'mail',
		{ occasion: 'order', orderId: order.id },
		{ key: `mail:order:${order.id}`, memberId }
	);
}

/** Paid for what is held already, or for nobody who is still there: the payment goes back by itself. */
async function giveBackOrder(work: Work, order: Order, payment: Payment, memberId: string): Promise<void> {
	await work.tx
		.update(orders)
		.set({ state: 'given-back', openKey: null, paidAt: work.now, typedPasswordHash: null })
		.where(eq(orders.id, order.id));
	await work.queue('give-back', { paymentId: payment.id }, { key: `give-back:${payment.id}` });
	const about = { occasion: 'had-already' as const, orderId: order.id };
	await work.queue('mail', about, { key: `mail:order:${order.id}`, memberId });
}

/** A capture that is heard of later than this after the order signs nobody in. */
const CLAIMS_WITHIN_MS = 24 * 3_600_000;

/**
 * Paying makes an account somebody's where this very order made it and it holds nothing else. What somebody else has made,
 * claimed or been given opens by the mailed link alone; and where nobody has proved the mailbox, who was in before is out.
 */
async function claimOrEnd(work: Work, order: Order, account: Account): Promise<void> {
	// Whoever was signed in bought for themselves.
	if (order.email === null) return;
	const isLate = work.now - order.createdAt > CLAIMS_WITHIN_MS;
	const isNew = account.role === 'member' && account.claimedAt === null;
	const isOwn = isNew && (await holdsNothing(work, order, account.id));
	if (!isOwn || isLate) return void (await endUnproved(work, account));
	await work.tx
		.update(accounts)
		.set({
			claimedAt: work.now,
			claimedByOrderId: order.id,
			passwordHash: order.typedPasswordHash,
			...(order.typedName ? { name: order.typedName, isNameTyped: true } : {})
		})
		.where(eq(accounts.id, account.id));
	work.standingChanged(account.id);
}

/** No grant, invitation, receipt or redemption beside this order's: then the order has made the account. */
async function holdsNothing({ tx }: Work, order: Order, memberId: string): Promise<boolean> {
	const [of] = await tx
		.select({
			any: sql<number>`exists(select 1 from grants where member_id = ${memberId})
				or exists(select 1 from sign_in_links where account_id = ${memberId})
				or exists(select 1 from redemptions where member_id = ${memberId})
				or exists(select 1 from audit where member_id = ${memberId} and action in ('added-member', 'changed-post'))
				or exists(select 1 from orders o where o.member_id = ${memberId} and o.id <> ${order.id})`.mapWith(Number)
		})
		.from(accounts)
		.where(eq(accounts.id, memberId));
	return of?.any === 0;
}
