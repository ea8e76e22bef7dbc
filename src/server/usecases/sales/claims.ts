/**
 * By what an order stands, as long as it is neither paid nor ended: for each member, and for each stranger's device and address,
 * there is one of each plan, or of each ladder of plans. An order of several things stands by all of them.
 */
import { eq, inArray } from 'drizzle-orm';
import type { Tx } from '../../db/connect';
import type { Order, Plan } from '../../db/queries/sales';
import { orderClaims, orders } from '../../db/schema/sales';
import { hashOf } from '../../people/sessions';

type Thing = Pick<Plan, 'id' | 'ladderId'>;

const placeOf = ({ id, ladderId }: Thing) => ladderId ?? id;

export function memberKey(memberId: string, plan: Thing): string {
	return `${memberId}:${placeOf(plan)}`;
}

/** Of what is bought for others there is one for each of them. */
export function giftKey(of: string, email: string): string {
	return hashOf(JSON.stringify(['gift', of, email]));
}

/** Strangers' orders are told apart by their device: nobody ends what another has begun on the same address. */
export function strangerKey(deviceHash: string, email: string | null, plan: Thing): string {
	return hashOf(JSON.stringify([deviceHash, email, placeOf(plan)]));
}

/** Orders that stand by any of these, behind their locks. */
export async function standingBy(tx: Tx, keys: readonly string[]): Promise<Order[]> {
	const rows = await tx
		.selectDistinct({ orderId: orderClaims.orderId })
		.from(orderClaims)
		.where(inArray(orderClaims.key, [...keys]));
	const ids = rows.map(({ orderId }) => orderId);
	if (ids.length === 0) return [];
	const locked = await tx
		.select()
		.from(orders)
		.where(inArray(orders.id, ids))
		.orderBy(orders.id)
		.for('update');
	// Read again behind the locks: one that has ended meanwhile stands by nothing.
	const still = await keysOf(tx, ids);
	return locked.filter(({ id }) => still.some(({ orderId, key }) => orderId === id && keys.includes(key)));
}

async function keysOf(tx: Tx, orderIds: readonly string[]) {
	return tx
		.select()
		.from(orderClaims)
		.where(inArray(orderClaims.orderId, [...orderIds]));
}

/** From now on an order stands by these, and by nothing else. Where another has been faster, the whole is done anew. */
export async function claim(tx: Tx, orderId: string, keys: readonly string[]): Promise<void> {
	await unclaim(tx, orderId);
	await tx.insert(orderClaims).values(keys.map((key) => ({ key, orderId })));
}

export async function claimsOf(tx: Tx, orderId: string): Promise<string[]> {
	return (await keysOf(tx, [orderId])).map(({ key }) => key);
}

export async function unclaim(tx: Tx, orderId: string): Promise<void> {
	await tx.delete(orderClaims).where(eq(orderClaims.orderId, orderId));
}
