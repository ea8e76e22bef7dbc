/**
 * What becomes of an order when it is paid, or asks for nothing: a member, a grant, an agreement, and an account that may be
 * claimed by it.
 */
import { and, eq, isNull, sql } from 'drizzle-orm';
import { isCountry } from '$core/text/countries';
import { mayMove, periodOfMove, termsOfMove } from '$core/billing/move';
import { orderAfter, type OrderEvent } from '$core/billing/order';
import type { Terms } from '$core/billing/terms';
import {
	accountByEmail,
	accountById,
	keepFirstDay,
	lockAccount,
	type Account
} from '../../db/queries/members';
import { agreementOfOrder, courseNow, heldInPlaceOf } from '../../db/queries/agreements';
import { giftOfOrder, type Gift } from '../../db/queries/gifts';
import {
	cardByRef,
	lineById,
	linesOfOrder,
	mainLinesOf,
	paymentsOfOrder,
	planById,
	priceVersionById,
	type OfferedPlan,
	type Order,
	type OrderLine,
	type Payment
} from '../../db/queries/sales';
import type { SiteSettings } from '../../db/schema/running';
import { accounts } from '../../db/schema/people';
import { agreements, orderLines, orders, payments } from '../../db/schema/sales';
import type { Card } from '../../ports/payments';
import type { Work } from '../../transact';
import { makeAccount } from '../accounts/make-account';
import { endUnproved } from '../accounts/proving';
import { keepCard, takeCard } from './change-card';
import { unclaim } from './claims';
import { tellBought } from '../running/tell-listeners';
import { enterAgreement } from './enter-agreement';
import { turnAgreement } from './move-agreement';
import { agreedTax, termsOfLine } from './tax-order';
import { queueTelling } from './tell-gift';

/** Whoever pays is a member from now on: the one who was signed in, or the one of the address, who may be new. */
export async function withBuyer(work: Work, order: Order): Promise<Order> {
	if (order.memberId !== null || order.email === null) return order;
	const made = await withNewBuyer(work, order);
	if (made) return made;
	const account = await accountByEmail(work.tx, order.email);
	if (!account) throw new Error('The account was not written');
	return ofBuyer(work, order, account.id);
}

/** The order with the account that it makes; `null`: somebody has the address, by now at the latest. */
export async function withNewBuyer(work: Work, order: Order): Promise<Order | null> {
	const { email, typedName } = order;
	if (email === null) return null;
	const made = { email, name: typedName ?? '', isNameTyped: typedName !== null };
	const id = await makeAccount(work, made);
	return id === null ? null : ofBuyer(work, order, id);
}

async function ofBuyer({ tx }: Work, order: Order, memberId: string): Promise<Order> {
	await tx.update(orders).set({ memberId }).where(eq(orders.id, order.id));
	await tx.update(payments).set({ memberId }).where(eq(payments.orderId, order.id));
	return { ...order, memberId };
}

/** What came in for an order. */
export interface CameIn {
	/** `null`: it asks for nothing. */
	payment: Payment | null;
	/** What follows is charged to it. */
	card: Card | null;
}

/** An order that is paid: for each thing of it a grant and an agreement, the first day, and a mail that leads straight in. */
export async function fulfil(
	work: Work,
	{ zone }: SiteSettings,
	order: Order,
	{ payment, card: given }: CameIn
): Promise<void> {
	const { memberId } = order;
	if (memberId === null) throw new Error(`Order ${order.id} was paid by nobody`);
	// What was offered after something else was charged to the card of that.
	const card = given ?? (order.extraOf === null ? null : await cardOf(work, order.extraOf));
	if (card) await proveCountry(work, order, card);
	await lockAccount(work.tx, memberId);
	if (order.movesId !== null) return fulfilMove(work, order, order.movesId, memberId, { payment, card });
	const account = await accountById(work.tx, memberId);
	const gift = await giftOfOrder(work.tx, order.id);
	if (gift) return fulfilGift(work, { order, gift, account, payment, memberId });
	const things = await thingsOf(work, order, memberId);
	const isWithoutCard = things.some(({ isMore }) => isMore) && order.processor === 'card' && !card;
	const wanted = things.filter(({ isHeld }) => !isHeld);
	if (!account || wanted.length === 0 || isWithoutCard) return giveBackOrder(work, order, payment, memberId);
	const { period, attempt } = payment ?? { period: 0, attempt: 1 };
	await claimOrEnd(work, order, account);
	if (card) await keepCard(work, memberId, card);
	for (const { line, plan, terms, isMore } of wanted)
		await enterAgreement(work, {
			...{ memberId, order, line, zone, cardRef: card?.ref ?? null, charge: { period, attempt } },
			agreed: { planId: line.planId, terms, access: plan.access },
			firstDay: plan.firstDay,
			source: isMore ? 'subscription' : 'order'
		});
	await endPaid(work, order, 'paid');
	for (const { line, isHeld } of things)
		if (isHeld) await giveBackThing(work, order, payment, line, memberId);
	await work.queue(
		'mail',
		{ occasion: 'order', orderId: order.id },
		{ key: `mail:order:${order.id}`, memberId }
	);
}

/** A thing of an order. `isHeld`: it is held already, or there is no such plan any more. */
interface Bought {
	line: OrderLine;
	plan: Pick<OfferedPlan, 'access' | 'firstDay'>;
	terms: Terms;
	/** Something is charged later. */
	isMore: boolean;
	isHeld: boolean;
}

async function thingsOf({ tx, now }: Work, order: Order, memberId: string): Promise<Bought[]> {
	const things: Bought[] = [];
	for (const line of await mainLinesOf(tx, order.id)) {
		const plan = await planById(tx, line.planId);
		if (!plan) continue;
		const price = await priceVersionById(tx, line.priceVersionId);
		const terms = termsOfLine(price.terms, order, line);
		const isMore = terms.then.kind === 'more';
		// One rung at a time: whoever holds another one moves, and does not pay twice.
		const isHeld = (await heldInPlaceOf(tx, memberId, plan, now)) !== null;
		things.push({ line, plan, terms, isMore, isHeld });
	}
	return things;
}

/** Of several things one is held already: what was paid for it goes back, and they are told; the others are theirs. */
async function giveBackThing(
	work: Work,
	order: Order,
	payment: Payment | null,
	{ id: lineId, position }: OrderLine,
	memberId: string
): Promise<void> {
	const lines = (await linesOfOrder(work.tx, order.id)).filter((line) => line.position === position);
	for (const { id, totalMinor } of lines)
		if (payment && totalMinor > 0)
			await work.queue(
				'give-back',
				{ paymentId: payment.id, lineId: id },
				{ key: `give-back:${payment.id}:${id}` }
			);
	const about = { occasion: 'had-already' as const, orderId: order.id, lineId };
	await work.queue('mail', about, { key: `mail:had-already:${lineId}`, memberId });
}

/** The card that is kept for an order. */
async function cardOf({ tx }: Work, orderId: string): Promise<Card | null> {
	const agreement = await agreementOfOrder(tx, orderId);
	return agreement?.cardRef ? cardByRef(tx, agreement.cardRef) : null;
}

/** Nobody's yet: it is told on its day, and opened by whom it is for. */
async function fulfilGift(
	work: Work,
	of: { order: Order; gift: Gift; account: Account | null; payment: Payment | null; memberId: string }
): Promise<void> {
	const { order, gift, account, payment, memberId } = of;
	// A second payment of it goes back.
	if (!account || !payment || order.state === 'paid') return giveBackOrder(work, order, payment, memberId);
	await claimOrEnd(work, order, account);
	await endPaid(work, order, 'paid');
	await queueTelling(work, gift);
	await work.queue(
		'mail',
		{ occasion: 'gift-bought', giftId: gift.id },
		{ key: `mail:order:${order.id}`, memberId }
	);
}

/** Where the card's bank is says something of where its holder is. */
async function proveCountry({ tx }: Work, { id, tax }: Order, { country }: Card): Promise<void> {
	if (!tax || tax.buyer.country === null || !country || !isCountry(country)) return;
	const others = tax.proofs.filter(({ from }) => from !== 'card');
	const proofs = [...others, { from: 'card' as const, country }];
	await tx
		.update(orders)
		.set({ tax: { ...tax, proofs } })
		.where(eq(orders.id, id));
}

export async function endPaid(work: Work, order: Order, event: OrderEvent): Promise<void> {
	const { tx, now } = work;
	const { id, state } = order;
	const next = orderAfter(state, event);
	if (next === null) return;
	if (event === 'paid' && order.memberId !== null) await tellBought(work, order, order.memberId);
	await tx
		.update(orders)
		.set({ state: next, paidAt: now, typedPasswordHash: null })
		.where(and(eq(orders.id, id), eq(orders.state, state)));
	await unclaim(tx, id);
}

/** An agreement goes on at another price, and with another plan, for which an order has paid. */
async function fulfilMove(
	work: Work,
	order: Order,
	agreementId: string,
	memberId: string,
	{ payment, card }: CameIn
): Promise<void> {
	const [row] = await work.tx.select().from(agreements).where(eq(agreements.id, agreementId)).for('update');
	const [line] = await linesOfOrder(work.tx, order.id);
	const plan = line ? await planById(work.tx, line.planId) : null;
	if (!row || !line || !plan || !payment) return giveBackOrder(work, order, payment, memberId);
	// What it was worth is what it was when it was ordered: a period that began since has asked for its own.
	const course = await courseNow(work.tx, row);
	if (!mayMove(course) || periodOfMove(course) !== payment.period)
		return giveBackOrder(work, order, payment, memberId);
	const { terms } = await priceVersionById(work.tx, line.priceVersionId);
	const before = await lineById(work.tx, row.orderLineId);
	// What was paid before is found by the agreement from now on, and what is paid after it by this order. What has paid for
	// several things stays with their order.
	if (before && (await mainLinesOf(work.tx, before.orderId)).length === 1)
		await work.tx
			.update(payments)
			.set({ agreementId })
			.where(and(eq(payments.orderId, before.orderId), isNull(payments.agreementId)));
	await work.tx.update(payments).set({ agreementId, attempt: 0 }).where(eq(payments.id, payment.id));
	const { processor } = order;
	const { seats } = order;
	const own = {
		orderLineId: line.id,
		priceVersionId: line.priceVersionId,
		processor,
		seats,
		tax: agreedTax(order)
	};
	await work.tx.update(agreements).set(own).where(eq(agreements.id, agreementId));
	await work.tx.update(orderLines).set({ agreementId }).where(eq(orderLines.id, line.id));
	const moved = termsOfMove(termsOfLine(terms, order, line));
	const turn = { planId: plan.id, terms: moved, access: plan.access };
	await turnAgreement(work, agreementId, { kind: 'moved', ...turn });
	if (card) await takeCard(work, agreementId, card);
	await keepFirstDay(work.tx, memberId, plan.id, work.now);
	await endPaid(work, order, 'paid');
}

/** Paid for what is held already, or for nobody who is still there: the payment goes back by itself. */
async function giveBackOrder(
	work: Work,
	order: Order,
	payment: Payment | null,
	memberId: string
): Promise<void> {
	await endPaid(work, order, 'had-already');
	// What came in in parts goes back in parts; what has paid an order before this payment stays.
	const parts = order.state === 'paid' ? [] : await paymentsOfOrder(work.tx, order.id);
	const came = parts.filter(({ state, agreementId }) => state === 'captured' && agreementId === null);
	for (const { id, amountMinor } of new Map(
		[...came, ...(payment ? [payment] : [])].map((one) => [one.id, one])
	).values())
		if (amountMinor > 0) await work.queue('give-back', { paymentId: id }, { key: `give-back:${id}` });
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
