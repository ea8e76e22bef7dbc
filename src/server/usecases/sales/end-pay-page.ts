/** Orders that are not paid any more, and the pay pages that end with them. */
import { and, eq, inArray, isNull, lt } from 'drizzle-orm';
import { paymentById, paymentsOfOrder, type Order } from '../../db/queries/sales';
import { orderLines, orders, payments, type OrderState } from '../../db/schema/sales';
import { transact, type Work, type Transacting } from '../../transact';
import { PAY_PAGE_LIVES_MS } from './pay-page';
import { settlePayment } from './settle-payment';
import type { Selling } from './selling';

/** What strangers ordered and never paid is forgotten after a week. */
const FORGOTTEN_AFTER_MS = 7 * 24 * 3_600_000;
const AT_ONCE = 200;

/** Ends an order that is open; what was typed for it is cleared, and its pay page ends. */
export async function endOrder(
	{ tx, queue }: Pick<Work, 'tx' | 'queue'>,
	order: Pick<Order, 'id'>,
	state: Extract<OrderState, 'replaced' | 'expired'>
): Promise<void> {
	await tx
		.update(orders)
		.set({ state, openKey: null, typedPasswordHash: null })
		.where(and(eq(orders.id, order.id), eq(orders.state, 'open')));
	for (const { id, state: held } of await paymentsOfOrder(tx, order.id))
		if (held === 'pending') await queue('end-pay-page', { paymentId: id }, { key: `end-pay-page:${id}` });
}

/** The job: the processor closes the page. Whoever was faster than that has paid, and is settled as usual. */
export async function endPayPage(app: Selling, paymentId: string): Promise<void> {
	const payment = await paymentById(app.db, paymentId);
	if (payment?.state !== 'pending' || !payment.processorRef) return;
	await app.payments.endSession(payment.processorRef);
	await settlePayment(app, payment);
}

/** A price was raised or a plan withdrawn: open orders for it end, and with them their pay pages. */
export async function endOpenOrders(work: Work, planId: string): Promise<void> {
	const open = await work.tx
		.select({ id: orders.id })
		.from(orders)
		.innerJoin(orderLines, eq(orderLines.orderId, orders.id))
		.where(and(eq(orderLines.planId, planId), eq(orders.state, 'open')));
	for (const order of open) await endOrder(work, order, 'expired');
}

/** Orders whose pay page has run out. */
export async function expireOrders(app: Transacting): Promise<void> {
	const before = app.clock.business() - PAY_PAGE_LIVES_MS;
	const old = await app.db
		.select({ id: orders.id })
		.from(orders)
		.where(and(eq(orders.state, 'open'), lt(orders.createdAt, before)))
		.limit(AT_ONCE);
	for (const order of old) await transact(app, null, (work) => endOrder(work, order, 'expired'));
}

/** Forgets strangers' orders that came to nothing, after asking the processor once more. */
export async function forgetStrangersOrders(app: Selling): Promise<number> {
	const before = app.clock.business() - FORGOTTEN_AFTER_MS;
	const old = await app.db
		.select({ id: orders.id })
		.from(orders)
		.where(
			and(
				inArray(orders.state, ['replaced', 'expired']),
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
			const isMoney = (await paymentsOfOrder(tx, id)).some(({ state }) => state === 'captured');
			if (!order || isMoney) return false;
			await tx.delete(payments).where(eq(payments.orderId, id));
			await tx.delete(orderLines).where(eq(orderLines.orderId, id));
			await tx.delete(orders).where(eq(orders.id, id));
			return true;
		});
		if (isGone) forgotten++;
	}
	return forgotten;
}
