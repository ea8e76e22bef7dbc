/** The mailbox that an order was typed for is its buyer's: somebody has pressed the link in the mail to it. */
import { and, eq } from 'drizzle-orm';
import { isStanding } from '$core/billing/order';
import type { Account } from '../../db/queries/members';
import { giftOfOrder } from '../../db/queries/gifts';
import { lineOf, orderById, type Order } from '../../db/queries/sales';
import type { SiteSettings } from '../../db/schema/running';
import { orders, payments } from '../../db/schema/sales';
import type { Work } from '../../transact';
import { memberKey } from './open-key';
import { fulfil } from './fulfil-order';

/**
 * Inside a transaction that has locked the order, and behind the proof of the account. Money that is waited for stands on Today
 * from now on; what asks for nothing is open.
 */
export async function standBy(
	work: Work,
	site: SiteSettings,
	orderId: string,
	account: Account
): Promise<void> {
	const order = await orderById(work.tx, orderId);
	if (!order || !isStanding(order.state) || order.stoodByAt !== null) return;
	// A link is mailed to the address that the order was typed with, and to no other.
	if (order.memberId !== account.id && order.email !== account.email) return;
	const own: Order = { ...order, memberId: account.id, stoodByAt: work.now };
	const openKey = await ownKey(work, order, account);
	await work.tx
		.update(orders)
		.set({ memberId: account.id, stoodByAt: work.now, openKey })
		.where(and(eq(orders.id, orderId), eq(orders.state, order.state)));
	await work.tx.update(payments).set({ memberId: account.id }).where(eq(payments.orderId, orderId));
	await work.note({
		action: 'stood-by-order',
		subject: { kind: 'order', id: orderId },
		memberId: account.id
	});
	if (order.totalMinor === 0) await fulfil(work, site, own, { payment: null, card: null });
}

/** It stands for the member from now on, as if they had been signed in; unless another order of theirs does. */
async function ownKey({ tx }: Work, order: Order, { id }: Account): Promise<string | null> {
	// What is for somebody else stands for them.
	if (await giftOfOrder(tx, order.id)) return order.openKey;
	const key = memberKey(id, (await lineOf(tx, order.id)).planId);
	const [other] = await tx
		.select({ id: orders.id })
		.from(orders)
		.where(eq(orders.openKey, key))
		.for('update');
	return other ? order.openKey : key;
}
