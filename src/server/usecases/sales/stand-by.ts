/** The mailbox that an order was typed for is its buyer's: somebody has pressed the link in the mail to it. */
import { and, eq } from 'drizzle-orm';
import { isStanding } from '$core/billing/order';
import type { Account } from '../../db/queries/members';
import { giftOfOrder } from '../../db/queries/gifts';
import { mainLinesOf, orderById, plansByIds, type Order } from '../../db/queries/sales';
import type { SiteSettings } from '../../db/schema/running';
import { orders, payments } from '../../db/schema/sales';
import type { Work } from '../../transact';
import { claim, memberKey, standingBy } from './claims';
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
	await work.tx
		.update(orders)
		.set({ memberId: account.id, stoodByAt: work.now })
		.where(and(eq(orders.id, orderId), eq(orders.state, order.state)));
	await claimAsMember(work, order, account);
	await work.tx.update(payments).set({ memberId: account.id }).where(eq(payments.orderId, orderId));
	await work.note({
		action: 'stood-by-order',
		subject: { kind: 'order', id: orderId },
		memberId: account.id
	});
	if (order.totalMinor === 0) await fulfil(work, site, own, { payment: null, card: null });
}

/** It stands for the member from now on, as if they had been signed in; unless another order of theirs does. */
async function claimAsMember({ tx }: Work, order: Order, { id }: Account): Promise<void> {
	// What is for somebody else stands for them.
	if (await giftOfOrder(tx, order.id)) return;
	const lines = await mainLinesOf(tx, order.id);
	const plans = await plansByIds(
		tx,
		lines.map(({ planId }) => planId)
	);
	const keys = plans.map((plan) => memberKey(id, plan));
	const others = (await standingBy(tx, keys)).filter((other) => other.id !== order.id);
	if (others.length === 0) await claim(tx, order.id, keys);
}
