/**
 * The one way in which money becomes access, and access ends with money given back.
 *
 * The return page, a notification, a renewal and the hourly reconciliation all come here: fetch the fact, lock the order,
 * book the steps that are still missing.
 */
import { and, eq, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { postings } from '$core/billing/ledger';
import { stepsTo, type PaymentState, type PaymentStep } from '$core/billing/payment';
import { begin } from '$core/billing/subscription';
import type { App } from '../../app';
import { accountById, keepFirstDay, lockAccount } from '../../db/queries/members';
import {
	lineOf,
	livingSubscriptions,
	lockOrder,
	nextNumber,
	paymentById,
	planById,
	priceVersionById,
	subscriptionById,
	subscriptionOfOrder,
	type Order,
	type Payment
} from '../../db/queries/sales';
import { grants } from '../../db/schema/access';
import { accounts } from '../../db/schema/people';
import {
	ledgerEntries,
	ledgerPostings,
	orders,
	payments,
	receipts,
	subscriptions
} from '../../db/schema/sales';
import { orderMail } from '../../mail/messages';
import type { PaymentFact } from '../../ports/payments';
import { transact, type Work } from '../../transact';
import { makeLink } from '../accounts/sign-in-link';
import { landingPath } from './landing';
import { carryOut, moveSubscription } from './move-subscription';

export async function settlePayment(app: App, payment: Payment): Promise<PaymentState> {
	if (!payment.processorRef) return payment.state;
	return applyFact(app, payment.id, await app.payments.fetch(payment.processorRef));
}

export async function applyFact(app: App, paymentId: string, fact: PaymentFact): Promise<PaymentState> {
	return transact(app, null, async (work) => {
		const known = await paymentById(work.tx, paymentId);
		if (!known) throw new Error(`There is no payment ${paymentId}`);
		const order = await lockOrder(work.tx, known.orderId);
		// Read again behind the lock: somebody else may have settled it in the meantime.
		const payment = await paymentById(work.tx, paymentId);
		if (!payment) throw new Error(`There is no payment ${paymentId}`);
		const isSameAmount =
			fact.amount.minor === payment.amountMinor && fact.amount.currency === payment.currency;
		if (!isSameAmount) throw new Error(`Payment ${paymentId} was made over another amount than was asked`);
		let held = payment.state;
		for (const step of stepsTo(payment.state, fact.state)) {
			await book(app, work, order, payment, held, step, fact);
			held = step;
		}
		return held;
	});
}

async function book(
	app: App,
	work: Work,
	order: Order,
	payment: Payment,
	held: PaymentState,
	step: PaymentStep,
	fact: PaymentFact
): Promise<void> {
	const isTakenBack = step === 'refunded' || step === 'disputed';
	const [moved] = await work.tx
		.update(payments)
		.set({ state: step, ...(isTakenBack ? { takenBackAt: work.now } : { settledAt: work.now }) })
		.where(and(eq(payments.id, payment.id), eq(payments.state, held)));
	if (moved.affectedRows !== 1) throw new Error(`Payment ${payment.id} is not ${held} any more`);
	await work.note({
		action: `payment-${step}`,
		subject: { kind: 'payment', id: payment.id },
		memberId: payment.memberId,
		before: held,
		after: step
	});
	if (step !== 'declined') await enterMoney(app, work, payment, isTakenBack ? 'refund' : 'payment');
	if (payment.subscriptionId) await tellSubscription(app, work, payment, payment.subscriptionId, step);
	else if (step === 'captured') await fulfil(app, work, order, payment, fact);
	else if (isTakenBack) {
		const subscription = await subscriptionOfOrder(work.tx, order.id);
		if (subscription) await tellSubscription(app, work, payment, subscription.id, step);
	}
}

async function tellSubscription(
	app: App,
	work: Work,
	payment: Payment,
	id: string,
	step: PaymentStep
): Promise<void> {
	const { period, attempt } = payment;
	await moveSubscription(
		app,
		work,
		id,
		step === 'declined' ? { kind: step, period, attempt } : { kind: step, period }
	);
}

/** An order that is paid: one grant for its line, a subscription, the first day, a mail that leads straight in. */
async function fulfil(
	app: App,
	work: Work,
	order: Order,
	payment: Payment,
	fact: PaymentFact
): Promise<void> {
	await lockAccount(work.tx, order.memberId);
	const line = await lineOf(work.tx, order.id);
	const living = await livingSubscriptions(work.tx, order.memberId);
	if (living.some((subscription) => subscription.planId === line.planId) || !fact.cardRef) {
		// Paid twice for the same: the second payment goes back by itself.
		await work.tx
			.update(orders)
			.set({ state: 'given-back', openKey: null, paidAt: work.now })
			.where(eq(orders.id, order.id));
		await work.queue({
			queue: 'billing',
			kind: 'give-back',
			key: `give-back:${payment.id}`,
			payload: { paymentId: payment.id }
		});
		return;
	}
	const price = await priceVersionById(work.tx, line.priceVersionId);
	const { zone } = await app.site();
	const terms = { anchor: work.now, unit: price.periodUnit, count: price.periodCount, zone };
	const { state, effects } = begin(terms);
	const grantId = uuidv7();
	const subscriptionId = uuidv7();
	await work.tx.insert(grants).values({
		id: grantId,
		memberId: order.memberId,
		planId: line.planId,
		from: work.now,
		source: 'subscription',
		orderLineId: line.id
	});
	await work.tx.insert(subscriptions).values({
		id: subscriptionId,
		memberId: order.memberId,
		planId: line.planId,
		orderLineId: line.id,
		priceVersionId: price.id,
		grantId,
		cardRef: fact.cardRef,
		anchor: terms.anchor,
		zone,
		state: state.kind,
		period: state.period,
		attempt: 0
	});
	await keepFirstDay(work.tx, order.memberId, line.planId, work.now);
	await work.tx
		.update(orders)
		.set({ state: 'paid', openKey: null, paidAt: work.now, signsIn: await claimByOrder(work, order) })
		.where(eq(orders.id, order.id));
	const subscription = await subscriptionById(work.tx, subscriptionId);
	if (!subscription) throw new Error('The subscription was not written');
	await carryOut(app, work, subscription, effects);
	await work.note({
		action: 'granted',
		subject: { kind: 'grant', id: grantId },
		memberId: order.memberId,
		after: { planId: line.planId, order: order.number }
	});
	await mailBuyer(app, work, order, line.planId);
}

/** Paying makes a typed address somebody's. Says whether this order is the one that did. */
async function claimByOrder({ tx, now }: Work, order: Order): Promise<boolean> {
	if (!order.signsIn) return false;
	const [claimed] = await tx
		.update(accounts)
		.set({
			claimedAt: now,
			passwordHash: order.typedPasswordHash,
			...(order.typedName ? { name: order.typedName } : {})
		})
		.where(and(eq(accounts.id, order.memberId), isNull(accounts.claimedAt)));
	return claimed.affectedRows === 1;
}

async function mailBuyer(app: App, work: Work, order: Order, planId: string): Promise<void> {
	const account = await accountById(work.tx, order.memberId);
	const plan = await planById(work.tx, planId);
	if (!account?.email || !plan) return;
	const site = await app.site();
	const path = await landingPath(app, planId, order.next);
	const mail = orderMail(site, account.email, {
		planName: plan.name,
		amount: { minor: order.totalMinor, currency: order.currency },
		number: order.number,
		contentUrl: app.settings.origin + path,
		signInUrl: await makeLink(app, work, account.id, path)
	});
	await work.queue({ queue: 'mail', kind: 'mail', key: `mail:order:${order.id}`, payload: { ...mail } });
}

/** The ledger entry and the receipt, each once for a payment and kind. */
async function enterMoney(
	app: App,
	{ tx, now }: Work,
	payment: Payment,
	kind: 'payment' | 'refund'
): Promise<void> {
	const entryId = uuidv7();
	const amount = { minor: payment.amountMinor, currency: payment.currency };
	await tx.insert(ledgerEntries).values({ id: entryId, at: now, kind, paymentId: payment.id });
	await tx.insert(ledgerPostings).values(postings(kind, amount).map((posting) => ({ entryId, ...posting })));
	const account = await accountById(tx, payment.memberId);
	const line = await lineOf(tx, payment.orderId);
	const plan = await planById(tx, line.planId);
	const site = await app.site();
	const year = new Date(now).getUTCFullYear();
	const number = await nextNumber(tx, `receipt-${year}`);
	await tx.insert(receipts).values({
		number: `R-${year}-${String(number).padStart(5, '0')}`,
		kind,
		paymentId: payment.id,
		memberId: payment.memberId,
		amountMinor: payment.amountMinor,
		currency: payment.currency,
		content: {
			seller: { name: site.siteName, statementName: site.statementName },
			buyer: { name: account?.name ?? '', email: account?.email ?? '' },
			lines: [{ text: plan?.name ?? '', amountMinor: payment.amountMinor }]
		},
		issuedAt: now
	});
}
