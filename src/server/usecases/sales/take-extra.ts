/**
 * After paying, something is offered besides: one after the other, each answered by one press, and charged to the card that was just
 * given. What is taken is an order of its own; the access to what was bought first waits for none of it.
 */
import { and, eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { includedFor } from '$core/access/included';
import { whyNotOffered } from '$core/billing/extra';
import { linesOf, orderTotal, type LineAmounts } from '$core/billing/order';
import { beginsAt, sellsAt } from '$core/billing/plan-access';
import { waysToPay } from '$core/billing/pay-by';
import { standingOf } from '$core/billing/payment';
import { termsTax, type OrderTax } from '$core/billing/tax';
import { amountDue, asksForMoney, startOf, taxedTerms, withDiscount, type Terms } from '$core/billing/terms';
import { localDay } from '$core/time/calendar';
import type { Handle } from '../../db/connect';
import { agreementOfOrder, heldInPlaceOf } from '../../db/queries/agreements';
import { answersOf, extraById, extrasOf, planIdOfPrice, type Extra } from '../../db/queries/extras';
import { accountById, lockAccount } from '../../db/queries/members';
import { hasPlaceNow, withPlaces } from '../../db/queries/places';
import {
	cardByRef,
	lineOf,
	lockOrder,
	orderById,
	paymentById,
	paymentsOfOrder,
	planById,
	type OfferedPlan,
	type OfferedPrice,
	type Order
} from '../../db/queries/sales';
import { extraAnswers, orderLines, orders, payments } from '../../db/schema/sales';
import type { Card } from '../../ports/payments';
import { transact, type Work } from '../../transact';
import { endOrder } from './end-pay-page';
import { fulfil } from './fulfil-order';
import { ownOrder } from './look-at-order';
import { claim, memberKey, standingBy } from './claims';
import { orderNumber } from './numbers';
import type { Selling } from './selling';
import { applyFact } from './settle-payment';
import { isSoldTo } from './sold-to';
import { orderTax } from './tax-order';

/** Who looks at an order that was paid. */
export interface PaidBy {
	orderId: string;
	/** Of the device; `null`: it has begun nothing. */
	device: string | null;
	/** Who is signed in. */
	memberId: string | null;
}

export interface OfferedExtra {
	id: string;
	planName: string;
	lines: string[];
	/** What the publisher says of it. */
	words: string;
	/** With what is taken off, and the tax. */
	terms: Terms;
	todayMinor: number;
	/** Without what is taken off; `null`: nothing is. */
	insteadMinor: number | null;
	next: { at: number; amountMinor: number } | null;
	/** The last digits of the card that it is charged to. */
	ending: string;
}

export interface TakenExtra {
	planName: string;
	amount: { minor: number; currency: string };
	/** `waits`: the bank has not answered yet. */
	became: 'bought' | 'declined' | 'waits' | 'had-already';
}

/** What is offered next after an order, and what was taken by now; `null`: it is not theirs to see. */
export async function extrasAfter(
	app: Selling,
	by: PaidBy
): Promise<{ next: OfferedExtra | null; taken: TakenExtra[] } | null> {
	const order = await ownOrder(app, by.orderId, by.device, by.memberId);
	if (!order || order.paidAt === null) return null;
	const taken: TakenExtra[] = [];
	for (const { taken: made, planName } of await answersOf(app.db, order.id)) {
		if (!made) continue;
		const amount = { minor: made.totalMinor, currency: made.currency };
		taken.push({ planName, amount, became: await becomeOf(app.db, made) });
	}
	const paid = await paidOf(app, order, by);
	for (const extra of paid ? await extrasOf(app.db, paid.planId) : []) {
		const offer = paid && (await offerOf(app, paid, extra));
		if (offer) return { next: shown(paid, offer, await zoneOf(app), app.clock.business()), taken };
	}
	return { next: null, taken };
}

const zoneOf = async (app: Selling) => (await app.site()).zone;

/** What has become of what was taken: one that was never charged, and never will be, is as good as declined. */
async function becomeOf(db: Handle, { id, state }: Order): Promise<TakenExtra['became']> {
	if (state === 'paid') return 'bought';
	if (state === 'given-back') return 'had-already';
	if (state !== 'open') return 'declined';
	const [payment] = await paymentsOfOrder(db, id);
	return payment?.state === 'pending' ? 'waits' : 'declined';
}

/** An order that something can be offered after: paid by a card that is kept, by somebody, for themselves. */
interface Paid {
	order: Order;
	memberId: string;
	planId: string;
	paidAt: number | null;
	card: Card | null;
}

/** Nobody learns from what is offered what another address holds: it has to be theirs, or made by this very order. */
async function paidOf(app: { db: Handle }, order: Order, by: PaidBy): Promise<Paid | null> {
	const { memberId, state, movesId, extraOf, processor } = order;
	if (memberId === null || state !== 'paid' || movesId !== null || extraOf !== null) return null;
	const isTheirs =
		by.memberId === memberId || (await accountById(app.db, memberId))?.claimedByOrderId === order.id;
	if (!isTheirs) return null;
	const agreement = await agreementOfOrder(app.db, order.id);
	if (processor !== 'card' || !agreement) return null;
	const all = await paymentsOfOrder(app.db, order.id);
	const isBack = all.some((one) => ['refunded', 'disputed', 'lost'].includes(standingOf(one)));
	const card = agreement.cardRef === null ? null : await cardByRef(app.db, agreement.cardRef);
	const { planId } = await lineOf(app.db, order.id);
	return { order, memberId, planId, paidAt: isBack ? null : order.paidAt, card };
}

/** What would be bought, and for what. */
interface Offering {
	extra: Extra;
	plan: OfferedPlan;
	price: OfferedPrice;
	tax: OrderTax;
	terms: Terms;
	lines: LineAmounts[];
	totalMinor: number;
}

async function offerOf(app: Selling, paid: Paid, extra: Extra): Promise<Offering | null> {
	const { order, memberId, card } = paid;
	const planId = await planIdOfPrice(app.db, extra.priceId);
	const known = planId === null ? null : await planById(app.db, planId);
	if (!known) return null;
	const now = app.clock.business();
	const buyer = { memberId, deviceHash: order.deviceHash };
	const [plan = known] = await withPlaces(app.db, [known], { now, buyer });
	const price = plan.prices.find(({ priceId }) => priceId === extra.priceId);
	if (!price) return null;
	const site = await app.site();
	const isByCard = waysToPay(site.payBy, plan.payBy).includes('card');
	const isSold =
		sellsAt(plan, now) && plan.buyAt === null && isByCard && (await isSoldTo(app, memberId, plan));
	const standing = await app.rights.standing(memberId);
	const included = standing && includedFor(await app.rights.policy(), standing.viewer, plan.id, now);
	const taxBuyer = order.tax?.buyer ?? { country: null, taxId: null };
	const asksWhere = site.tax.way !== 'none' && asksForMoney(price.terms) && taxBuyer.country === null;
	const answers = await answersOf(app.db, order.id);
	const why = whyNotOffered(
		{
			...{ paidAt: paid.paidAt, hasCard: card !== null, isSold, isIncluded: included !== null },
			isAnswered: answers.some(({ extraId }) => extraId === extra.id),
			isHeld: (await heldInPlaceOf(app.db, memberId, plan, now)) !== null,
			hasQuestions: plan.asksPostal || asksWhere
		},
		now
	);
	if (why !== null) return null;
	const tax = {
		...orderTax(site.tax, taxBuyer, localDay(now, site.zone)),
		proofs: order.tax?.proofs ?? []
	};
	const terms = taxedTerms(withDiscount(price.terms, extra.less), termsTax(tax.taxed));
	const lines = linesOf(terms, tax.taxed).map((line) =>
		line.kind === 'plan' ? { ...line, kind: 'extra' as const } : line
	);
	return { extra, plan, price, tax, terms, lines, totalMinor: orderTotal(lines) };
}

function shown(
	{ card }: Paid,
	{ extra, plan, price, tax, terms, totalMinor }: Offering,
	zone: string,
	now: number
): OfferedExtra {
	const begins = beginsAt(plan, now);
	const amountMinor = amountDue(terms, 1);
	const at = startOf(terms, begins, zone, 1);
	const full = orderTotal(linesOf(taxedTerms(price.terms, termsTax(tax.taxed)), tax.taxed));
	return {
		...{ id: extra.id, planName: plan.name, lines: plan.lines, words: extra.words, terms },
		todayMinor: totalMinor,
		insteadMinor: full > totalMinor ? full : null,
		next: amountMinor === null || at === null ? null : { at, amountMinor },
		ending: card?.ending ?? ''
	};
}

export type Answered =
	| { ok: true; became: 'left' | TakenExtra['became'] }
	/** `gone`: it is not offered any more, or was answered. `changed`: it costs something else by now. */
	| { ok: false; code: 'gone' | 'changed' };

/**
 * @param seenMinor what was shown as to be paid now
 * @param takes whether they want it
 */
export async function answerExtra(
	app: Selling,
	by: PaidBy,
	{ extraId, seenMinor, takes }: { extraId: string; seenMinor: number | null; takes: boolean }
): Promise<Answered> {
	const order = await ownOrder(app, by.orderId, by.device, by.memberId);
	const paid = order && (await paidOf(app, order, by));
	const extra = await extraById(app.db, extraId);
	if (!paid || extra?.endedAt !== null || extra.planId !== paid.planId) return { ok: false, code: 'gone' };
	const offer = await offerOf(app, paid, extra);
	if (!offer) return { ok: false, code: 'gone' };
	if (takes && offer.totalMinor !== seenMinor) return { ok: false, code: 'changed' };
	const site = await app.site();
	const placed = await transact(app, { id: paid.memberId }, async (work) => {
		await lockAccount(work.tx, paid.memberId);
		await lockOrder(work.tx, paid.order.id);
		const takenId = takes ? uuidv7() : null;
		const [written] = await work.tx
			.insert(extraAnswers)
			.ignore()
			.values({ orderId: paid.order.id, extraId, takes, takenId, at: work.now });
		// Whoever presses twice has pressed once.
		if (written.affectedRows === 0) return { kind: 'gone' as const };
		if (takenId === null) return { kind: 'left' as const };
		const isFree = await placeExtra(work, paid, offer, takenId);
		if (isFree === null) {
			const isThis = and(eq(extraAnswers.orderId, paid.order.id), eq(extraAnswers.extraId, extraId));
			await work.tx.update(extraAnswers).set({ takenId: null }).where(isThis);
			return { kind: 'gone' as const };
		}
		const placed = await orderById(work.tx, takenId);
		if (!placed) throw new Error('The order was not written');
		if (isFree) await fulfil(work, site, placed, { payment: null, card: paid.card });
		return { kind: isFree ? ('bought' as const) : ('to-charge' as const), orderId: takenId };
	});
	if (placed.kind === 'gone') return { ok: false, code: 'gone' };
	if (placed.kind !== 'to-charge') return { ok: true, became: placed.kind };
	return { ok: true, became: await chargeExtra(app, placed.orderId, paid, offer) };
}

/** Behind the member's lock. @returns whether nothing is to be paid; `null`: it cannot be had any more */
async function placeExtra(work: Work, paid: Paid, offer: Offering, id: string): Promise<boolean | null> {
	const { tx, now } = work;
	const { order, memberId } = paid;
	const { plan, price, tax, terms, lines, totalMinor, extra } = offer;
	if (await heldInPlaceOf(tx, memberId, plan, now)) return null;
	const buyer = { memberId, deviceHash: order.deviceHash, except: 'unpaid' as const };
	if (!(await hasPlaceNow(tx, price, now, buyer))) return null;
	const keys = [memberKey(memberId, plan)];
	for (const open of await standingBy(tx, keys)) await endOrder(work, open, 'replaced');
	const { currency } = terms;
	await tx.insert(orders).values({
		...{ id, number: await orderNumber(work), memberId },
		...{ state: 'open', totalMinor, currency, processor: 'card', tax },
		...{ extraOf: order.id, deviceHash: order.deviceHash, createdAt: now }
	});
	await claim(tx, id, keys);
	const text = (price.name === '' ? plan.name : `${plan.name}, ${price.name}`).slice(0, 200);
	await tx.insert(orderLines).values(
		lines.map((line) => ({
			...{ ...line, orderId: id, text, planId: plan.id, priceVersionId: price.id },
			discount: line.kind === 'fee' ? null : extra.less
		}))
	);
	await work.note({
		action: 'began-order',
		subject: { kind: 'order', id },
		memberId,
		after: { plan: plan.name, price: price.name, after: order.number }
	});
	if (totalMinor === 0) return true;
	await tx.insert(payments).values({
		...{ memberId, orderId: id, period: 0, attempt: 1, idempotencyKey: extraKey(id) },
		...{ processor: 'card', state: 'pending', amountMinor: totalMinor, currency, createdAt: now }
	});
	return false;
}

const KEY = 'extra:';

function extraKey(orderId: string): string {
	return `${KEY}${orderId}`;
}

/** Whether a payment is charged to a card that is kept, without a page. */
export function isOfExtra({ idempotencyKey }: { idempotencyKey: string }): boolean {
	return idempotencyKey.startsWith(KEY);
}

/** Where no answer comes, the hourly look finds it by its key. */
async function chargeExtra(
	app: Selling,
	orderId: string,
	{ card }: Paid,
	{ plan, totalMinor, terms }: Offering
): Promise<TakenExtra['became']> {
	const [payment] = await paymentsOfOrder(app.db, orderId);
	if (!payment || !card) throw new Error(`Order ${orderId} has no payment`);
	try {
		const fact = await app.processors.card.charge({
			...{ key: payment.idempotencyKey, cardRef: card.ref, text: plan.name },
			amount: { minor: totalMinor, currency: terms.currency }
		});
		await app.db.update(payments).set({ processorRef: fact.ref }).where(eq(payments.id, payment.id));
		await applyFact(app, payment.id, fact);
	} catch (error) {
		app.log.warn({ err: error, orderId }, 'what was offered besides could not be charged at once');
		return 'waits';
	}
	const [order, now] = [await orderById(app.db, orderId), await paymentById(app.db, payment.id)];
	if (order && now?.state === 'declined') {
		await transact(app, null, (work) => endOrder(work, order, 'ran-out'));
		return 'declined';
	}
	return order ? becomeOf(app.db, order) : 'waits';
}
