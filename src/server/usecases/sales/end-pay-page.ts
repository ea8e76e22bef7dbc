/** Orders that are not paid any more, and the pay pages that end with them. */
import { and, eq, inArray, isNull, lt } from 'drizzle-orm';
import { AWAITED, orderAfter, type OrderEvent, type OrderState } from '$core/billing/order';
import { OFFLINE_WAITS_DAYS } from '$core/billing/pay-by';
import { paymentById, paymentsOfOrder, type Order } from '../../db/queries/sales';
import { gifts, offlinePayments, orderLines, orders, payments } from '../../db/schema/sales';
import { transact, type Work, type Transacting } from '../../transact';
import { unclaim } from './claims';
import { PAY_PAGE_LIVES_MS } from './pay-page';
import { settlePayment } from './settle-payment';
import type { Selling } from './selling';

/** What strangers ordered and never paid is forgotten after a week. */
const FORGOTTEN_AFTER_MS = 7 * 24 * 3_600_000;
const AT_ONCE = 200;

/** Ends an order that stands; what was typed for it is cleared, and its pay page ends. */
export async function endOrder(
	{ tx, queue }: Pick<Work, 'tx' | 'queue'>,
	order: Pick<Order, 'id' | 'state'>,
	event: Exclude<OrderEvent, 'paid' | 'had-already'>
): Promise<void> {
	const state = orderAfter(order.state, event);
	if (state === null) return;
	const [ended] = await tx
		.update(orders)
		.set({ state, typedPasswordHash: null })
		.where(and(eq(orders.id, order.id), eq(orders.state, order.state)));
	if (ended.affectedRows === 0) return;
	await unclaim(tx, order.id);
	for (const { id, state: held } of await paymentsOfOrder(tx, order.id)) {
		if (held === 'pending') await queue('end-pay-page', { paymentId: id }, { key: `end-pay-page:${id}` });
		// What came in of it goes back.
		if (held === 'captured' && order.state === 'part-paid')
			await queue('give-back', { paymentId: id }, { key: `give-back:${id}` });
	}
}

/** The job: the processor closes the page. Whoever was faster than that has paid, and is settled as usual. */
export async function endPayPage(app: Selling, paymentId: string): Promise<void> {
	const payment = await paymentById(app.db, paymentId);
	if (payment?.state !== 'pending' || !payment.processorRef) return;
	await app.processors[payment.processor].endSession(payment.processorRef);
	await settlePayment(app, payment);
}

/**
 * A price was raised or a plan withdrawn: open orders for it end, and with them their pay pages. What somebody has ordered and
 * pays by themselves stands at what they were told.
 */
export async function endOpenOrders(work: Work, planId: string): Promise<void> {
	const open = await work.tx
		.select({ id: orders.id, state: orders.state })
		.from(orders)
		.innerJoin(orderLines, eq(orderLines.orderId, orders.id))
		.where(and(eq(orderLines.planId, planId), eq(orders.state, 'open')));
	for (const order of open) await endOrder(work, order, 'ran-out');
}

/** As long as money is waited for that is paid offline. */
export const OFFLINE_WAITS_MS = OFFLINE_WAITS_DAYS * 24 * 3_600_000;

/** As long as an order stands that nobody pays. */
const STANDS_MS: Record<Extract<OrderState, 'open' | 'waiting' | 'part-paid'>, number> = {
	open: PAY_PAGE_LIVES_MS,
	waiting: OFFLINE_WAITS_MS,
	'part-paid': OFFLINE_WAITS_MS
};

/** Orders whose pay page has run out, or whose money has not come in. */
export async function expireOrders(app: Transacting): Promise<void> {
	for (const state of ['open', ...AWAITED] as const) {
		const before = app.clock.business() - STANDS_MS[state];
		const old = await app.db
			.select({ id: orders.id, state: orders.state })
			.from(orders)
			.where(and(eq(orders.state, state), lt(orders.createdAt, before)))
			.limit(AT_ONCE);
		for (const order of old) await transact(app, null, (work) => endOrder(work, order, 'ran-out'));
	}
}

/** Forgets strangers' orders that came to nothing, after asking the processor once more. */
export async function forgetStrangersOrders(app: Selling): Promise<number> {
	const before = app.clock.business() - FORGOTTEN_AFTER_MS;
	const old = await app.db
		.select({ id: orders.id })
		.from(orders)
		.where(
			and(
				inArray(orders.state, ['replaced', 'expired', 'refused']),
				lt(orders.createdAt, before),
				isNull(orders.memberId)
			)
		)
		.limit(AT_ONCE);
	let forgotten = 0;
	for (const { id } of old) {
		for (const payment of await paymentsOfOrder(app.db, id))
			if (payment.state === 'pending') await settlePayment(app, payment);
		const isGone = await transact(app, null, async ({ tx }) => {
			const [order] = await tx
				.select()
				.from(orders)
				.where(and(eq(orders.id, id), isNull(orders.memberId)))
				.for('update');
			const known = await paymentsOfOrder(tx, id);
			if (!order || known.some(({ state }) => state === 'captured')) return false;
			const refs = known.flatMap(({ processorRef }) => processorRef ?? []);
			if (refs.length > 0) await tx.delete(offlinePayments).where(inArray(offlinePayments.ref, refs));
			await tx.delete(payments).where(eq(payments.orderId, id));
			await tx.delete(gifts).where(eq(gifts.orderId, id));
			await tx.delete(orderLines).where(eq(orderLines.orderId, id));
			await tx.delete(orders).where(eq(orders.id, id));
			return true;
		});
		if (isGone) forgotten++;
	}
	return forgotten;
}
