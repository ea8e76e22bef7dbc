/** Telling somebody of what was bought for them: on its day, by a mail that leads to where it is opened. */
import { eq } from 'drizzle-orm';
import { giftById, giftOfOrder, type Gift } from '../../db/queries/gifts';
import { lockOrder } from '../../db/queries/sales';
import { gifts } from '../../db/schema/sales';
import { transact, type Transacting, type Work } from '../../transact';

export async function queueTelling(work: Work, { id, tellAt }: Pick<Gift, 'id' | 'tellAt'>): Promise<void> {
	const runAt = Math.max(tellAt, work.now);
	await work.queue('tell-gift', { giftId: id }, { key: `tell-gift:${id}:${runAt}`, runAt, subjectId: id });
}

/** What an order has paid for somebody else stands again: they are told of it, where they were not. */
export async function tellAfterAll(work: Work, orderId: string): Promise<void> {
	const gift = await giftOfOrder(work.tx, orderId);
	if (gift?.toldAt === null) await queueTelling(work, gift);
}

/** The job. What went back meanwhile is told to nobody. */
export async function tellGift(app: Transacting, giftId: string): Promise<void> {
	const known = await giftById(app.db, giftId);
	if (!known) return;
	await transact(app, null, async (work) => {
		await lockOrder(work.tx, known.orderId);
		const gift = await giftById(work.tx, giftId);
		if (gift?.state !== 'kept') return;
		// It was put off since.
		if (gift.tellAt > work.now) return queueTelling(work, gift);
		await tell(work, giftId);
	});
}

/** Writes to whom it is for, behind the lock of its order. */
export async function tell(work: Work, giftId: string): Promise<void> {
	await work.tx.update(gifts).set({ toldAt: work.now }).where(eq(gifts.id, giftId));
	await work.queue('mail', { occasion: 'gift', giftId }, {});
}
