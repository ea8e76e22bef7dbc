/** A gift that went to the wrong address, or to nobody who saw it: its giver, or somebody of the staff, sends it again. */
import { eq } from 'drizzle-orm';
import type { Using } from '../../app';
import { giftById } from '../../db/queries/gifts';
import { accountById } from '../../db/queries/members';
import { lockOrder } from '../../db/queries/sales';
import { gifts } from '../../db/schema/sales';
import { need, type Staff } from '../../people/need';
import { allows } from '../../people/rate-limit';
import { transact, type Transacting } from '../../transact';
import { normaliseEmail } from '../accounts/sign-in';
import { tell } from './tell-gift';

export interface GiftChange {
	giftId: string;
	/** For which address it is from now on. */
	email: string;
}

/** `told`: a mail goes there now; else on its day. */
export type ChangedGift =
	{ ok: true; told: boolean } | { ok: false; code: 'unknown' | 'open' | 'given-back' | 'own' | 'too-many' };

export async function changeOwnGift(
	app: Transacting & Using<'clock'>,
	memberId: string,
	change: GiftChange
): Promise<ChangedGift> {
	const known = await giftById(app.db, change.giftId);
	if (known?.giverId !== memberId) return { ok: false, code: 'unknown' };
	return changeGift(app, memberId, change);
}

export async function changeGiftFromDesk(
	app: Transacting & Using<'clock'>,
	actor: Staff,
	change: GiftChange
): Promise<ChangedGift> {
	need(actor, 'members');
	return changeGift(app, actor?.id ?? null, change);
}

async function changeGift(
	app: Transacting & Using<'clock'>,
	actorId: string | null,
	{ giftId, email: typed }: GiftChange
): Promise<ChangedGift> {
	const email = normaliseEmail(typed);
	const known = await giftById(app.db, giftId);
	if (!known) return { ok: false, code: 'unknown' };
	const mayTell = (await allows(app, 'tellByGift', giftId)) && (await allows(app, 'linkByEmail', email));
	if (!mayTell) return { ok: false, code: 'too-many' };
	return transact(app, actorId === null ? null : { id: actorId }, async (work): Promise<ChangedGift> => {
		const order = await lockOrder(work.tx, known.orderId);
		const gift = await giftById(work.tx, giftId);
		if (!gift || gift.state === 'unpaid') return { ok: false, code: 'unknown' };
		if (gift.state === 'open' || gift.state === 'given-back') return { ok: false, code: gift.state };
		const giver = order.memberId === null ? null : await accountById(work.tx, order.memberId);
		if (giver?.email === email) return { ok: false, code: 'own' };
		await work.tx.update(gifts).set({ email }).where(eq(gifts.id, giftId));
		await work.note({
			action: 'changed-gift',
			subject: { kind: 'order', id: order.id },
			...(order.memberId === null ? {} : { memberId: order.memberId }),
			before: { email: gift.email },
			after: { email }
		});
		// What was to be told by now is told now.
		const isTold = gift.state === 'told' || gift.tellAt <= work.now;
		if (isTold) await tell(work, giftId);
		return { ok: true, told: isTold };
	});
}
