/** Opening what somebody has bought for one's address: from now on it is an agreement like others. */
import { eq } from 'drizzle-orm';
import { giftOf } from '$core/billing/gift';
import { accessEnd } from '$core/billing/plan-access';
import type { Using } from '../../app';
import { heldInPlaceOf } from '../../db/queries/agreements';
import { giftById, type StandingGift } from '../../db/queries/gifts';
import { accountById, lockAccount, type Account } from '../../db/queries/members';
import {
	lineOf,
	lockOrder,
	paymentsOfOrder,
	planById,
	priceVersionById,
	type Order
} from '../../db/queries/sales';
import { gifts } from '../../db/schema/sales';
import { transact, type Transacting, type Work } from '../../transact';
import { enterAgreement } from './enter-agreement';
import { termsOfLine } from './tax-order';

/**
 * `given-back`: the money went back to whoever gave it. `has-plan`: it is held already, and waits until that ends. `over`: what
 * it opens has ended for everybody.
 */
export type OpenedGift =
	{ ok: true; planId: string } | { ok: false; code: 'unknown' | 'given-back' | 'has-plan' | 'over' };

/** Whoever has proved the mailbox that a gift is for; nobody else learns that there is one. */
export async function openGift(
	app: Transacting & Using<'site'>,
	memberId: string,
	giftId: string
): Promise<OpenedGift> {
	const known = await giftById(app.db, giftId);
	if (!known) return { ok: false, code: 'unknown' };
	const { zone } = await app.site();
	return transact(app, { id: memberId }, async (work): Promise<OpenedGift> => {
		// First the order, as everything that settles money.
		const order = await lockOrder(work.tx, known.orderId);
		await lockAccount(work.tx, memberId);
		const account = await accountById(work.tx, memberId);
		const gift = await giftById(work.tx, giftId);
		if (!gift || !account || !isFor(gift, account)) return { ok: false, code: 'unknown' };
		if (gift.memberId === memberId) return { ok: true, planId: gift.planId };
		if (gift.state === 'given-back') return { ok: false, code: 'given-back' };
		if (gift.state !== 'told') return { ok: false, code: 'unknown' };
		const plan = await planById(work.tx, gift.planId);
		if (!plan) return { ok: false, code: 'unknown' };
		const end = accessEnd(gift.access, work.now, zone);
		if (end !== null && end <= work.now) return { ok: false, code: 'over' };
		if (await heldInPlaceOf(work.tx, memberId, plan, work.now)) return { ok: false, code: 'has-plan' };
		await enter(work, { order, gift, memberId, zone });
		return { ok: true, planId: gift.planId };
	});
}

/** Whether somebody may open it: theirs is the mailbox, and they have shown it. */
export function isFor(
	gift: Pick<StandingGift, 'email' | 'memberId'>,
	account: Pick<Account, 'id' | 'email' | 'provedAt'>
): boolean {
	if (gift.memberId !== null) return gift.memberId === account.id;
	return account.provedAt !== null && account.email !== null && account.email === gift.email;
}

async function enter(
	work: Work,
	of: { order: Order; gift: StandingGift; memberId: string; zone: string }
): Promise<void> {
	const { order, gift, memberId, zone } = of;
	const { id, planId, access } = gift;
	const plan = await planById(work.tx, planId);
	const line = await lineOf(work.tx, order.id);
	const { terms } = await priceVersionById(work.tx, line.priceVersionId);
	const given = giftOf(terms, { kind: 'while-paid' });
	const paid = (await paymentsOfOrder(work.tx, order.id)).find(
		({ state, agreementId }) => state === 'captured' && agreementId === null
	);
	if (!given || !paid) throw new Error(`Gift ${id} was not paid`);
	await enterAgreement(work, {
		...{ memberId, order, line, zone, cardRef: null, source: 'gift' },
		charge: { period: paid.period, attempt: paid.attempt },
		agreed: { planId, terms: termsOfLine(given.terms, order, line), access },
		firstDay: plan?.firstDay ?? null
	});
	await work.tx.update(gifts).set({ memberId, openedAt: work.now }).where(eq(gifts.id, id));
	await work.note({
		action: 'opened-gift',
		subject: { kind: 'order', id: order.id },
		memberId,
		after: { planId }
	});
}
