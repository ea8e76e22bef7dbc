/** What the checkout, return and thank-you pages may show of an order, and to whom. */
import type { Postal } from '$core/text/postal';
import { and, desc, eq, gt, inArray, isNotNull, isNull } from 'drizzle-orm';
import { isAwaited, MAIN_KINDS } from '$core/billing/order';
import { standingOf, type PaymentStanding } from '$core/billing/payment';
import type { Handle } from '../../db/connect';
import type { Using } from '../../app';
import { accountById, lockAccount } from '../../db/queries/members';
import { agreementsOfOrder, heldInPlaceOf, type AgreementRow } from '../../db/queries/agreements';
import {
	lineOf,
	orderById,
	paymentsOfOrder,
	planById,
	plansOfOrder,
	type Order,
	type Plan
} from '../../db/queries/sales';
import { giftOfOrder, type Gift } from '../../db/queries/gifts';
import { codeOfOrder } from '../../db/queries/discounts';
import { gifts, orderLines, orders, payments, priceVersions } from '../../db/schema/sales';
import { beginSession, hashOf, type NewSession } from '../../people/sessions';
import { transact, type Transacting } from '../../transact';
import { OFFLINE_WAITS_MS } from './end-pay-page';
import { landingPath, type Arriving } from './landing';
import { settlePayment } from './settle-payment';
import type { Selling } from './selling';

const SIGNS_IN_FOR_MS = 86_400_000;

/** What a member holds already of what they are about to buy: the plan, or another rung of its ladder. */
export function heldOf(
	app: Using<'clock' | 'db'>,
	memberId: string,
	plan: Plan
): Promise<AgreementRow | null> {
	return heldInPlaceOf(app.db, memberId, plan, app.clock.business());
}

/** What this device typed and chose for an order of the plan whose card was declined, or whose pay page ended. */
export async function declinedOrder(app: Using<'db'>, planId: string, device: string, isGift = false) {
	const [row] = await app.db
		.select({ order: orders, priceId: priceVersions.priceId, gift: gifts })
		.from(orders)
		.innerJoin(orderLines, eq(orderLines.orderId, orders.id))
		.innerJoin(priceVersions, eq(priceVersions.id, orderLines.priceVersionId))
		.innerJoin(payments, eq(payments.orderId, orders.id))
		.leftJoin(gifts, eq(gifts.orderId, orders.id))
		.where(
			and(
				eq(orders.deviceHash, hashOf(device)),
				inArray(orders.state, ['open', 'expired', 'refused']),
				eq(orderLines.planId, planId),
				eq(orderLines.position, 0),
				isGift ? isNotNull(gifts.id) : isNull(gifts.id),
				inArray(payments.state, ['declined', 'expired'])
			)
		)
		.orderBy(desc(orders.createdAt))
		.limit(1);
	if (!row) return null;
	const { email, typedName, tax } = row.order;
	const { country, taxId } = tax?.buyer ?? { country: null, taxId: null };
	const code = (await codeOfOrder(app.db, row.order))?.code ?? '';
	const where = { country: country ?? '', taxId: taxId ?? '' };
	const gift = row.gift && { email: row.gift.email ?? '', words: row.gift.words, tellAt: row.gift.tellAt };
	const { postal, seats } = row.order;
	const typed = { email: email ?? '', name: typedName ?? '', code };
	const besides = await pricesBesides(app.db, row.order.id);
	return { ...typed, besides, priceId: row.priceId, gift, postal, seats, ...where };
}

/** Ids of the prices of what else an order is of. */
export async function pricesBesides(db: Handle, orderId: string): Promise<string[]> {
	const rows = await db
		.select({ priceId: priceVersions.priceId })
		.from(orderLines)
		.innerJoin(priceVersions, eq(priceVersions.id, orderLines.priceVersionId))
		.where(
			and(eq(orderLines.orderId, orderId), gt(orderLines.position, 0), inArray(orderLines.kind, MAIN_KINDS))
		)
		.orderBy(orderLines.position);
	return rows.map(({ priceId }) => priceId);
}

/** Where they had something sent last, signed in: what somebody else typed with their address is not theirs. */
export async function lastPostal(app: Using<'db'>, memberId: string): Promise<Postal | null> {
	const [row] = await app.db
		.select({ postal: orders.postal })
		.from(orders)
		.where(and(eq(orders.memberId, memberId), isNull(orders.email), isNotNull(orders.postal)))
		.orderBy(desc(orders.createdAt))
		.limit(1);
	return row?.postal ?? null;
}

/** The order, if this device began it or its member is signed in. */
export async function ownOrder(
	app: Using<'db'>,
	orderId: string,
	device: string | null,
	memberId: string | null
): Promise<Order | null> {
	if (!/^[0-9a-f-]{36}$/.test(orderId)) return null;
	const order = await orderById(app.db, orderId);
	if (!order) return null;
	const isDevice = device !== null && hashOf(device) === order.deviceHash;
	return isDevice || (memberId !== null && order.memberId === memberId) ? order : null;
}

/** What becomes of whoever comes back to an order. */
export type Returned =
	| { kind: 'paid' }
	/** Nothing is to be paid; the way in is in the mail. */
	| { kind: 'by-mail' }
	/** `refused`: no money came in, somebody has said. */
	| { kind: 'declined' | 'ended' | 'refused'; planSlug: string; next: string | null; isGift: boolean }
	| { kind: 'pending'; planSlug: string; payUrl: string | null }
	| { kind: 'waits'; waiting: Waiting };

/** Money that its buyer sends. */
export interface Waiting {
	number: string;
	planName: string;
	amountMinor: number;
	currency: string;
	/** Until when it is waited for. */
	until: number;
	/** The address that has to say yes by its mail; `null`: it is known to be theirs. */
	asks: string | null;
}

/** Settles what the processor knows by now: as good as a notification. */
export async function settleReturn(
	app: Selling,
	orderId: string,
	device: string | null,
	memberId: string | null
): Promise<Returned | null> {
	const order = await ownOrder(app, orderId, device, memberId);
	if (!order) return null;
	const first = (await paymentsOfOrder(app.db, order.id)).find((payment) => payment.agreementId === null);
	const plan = await planById(app.db, (await lineOf(app.db, order.id)).planId);
	if (!plan) return null;
	if (!first) return order.paidAt === null ? { kind: 'by-mail' } : { kind: 'paid' };
	const { state } = await settlePayment(app, first);
	if (state === 'captured') return { kind: 'paid' };
	const isGift = (await giftOfOrder(app.db, order.id)) !== null;
	const back = { planSlug: plan.slug, next: order.next, isGift };
	if (order.state === 'refused') return { kind: 'refused', ...back };
	if (state !== 'pending') return { kind: state === 'declined' ? 'declined' : 'ended', ...back };
	if (!isAwaited(order.state)) return { kind: 'pending', planSlug: plan.slug, payUrl: first.payUrl };
	// Of what is paid in parts, what is left.
	const { amountMinor } = first;
	const { number, currency, createdAt, stoodByAt } = order;
	const until = createdAt + OFFLINE_WAITS_MS;
	const asks = stoodByAt === null ? await addressOf(app, order) : null;
	const planName = (await plansOfOrder(app.db, order.id)).map(({ name }) => name).join(', ');
	return { kind: 'waits', waiting: { number, planName, amountMinor, currency, until, asks } };
}

async function addressOf(app: Using<'db'>, { memberId, email }: Order): Promise<string> {
	const account = memberId === null ? null : await accountById(app.db, memberId);
	return account?.email ?? email ?? '';
}

export type Thanks =
	| {
			kind: 'paid';
			number: string;
			planName: string;
			/** Whether it was several things. */
			isSeveral: boolean;
			/** What the publisher says to whoever has it. */
			note: string;
			totalMinor: number;
			currency: string;
			email: string;
			landing: string;
			/** Set where paying signs this device in. */
			session: NewSession | null;
			/** Signed in, now or before: the way on is open. Otherwise it is in the mail. */
			isIn: boolean;
			/** It stands on a card statement. */
			isByCard: boolean;
			/** Said to the member themselves only: nobody else learns what an address holds. */
			isGivenBack: boolean;
			/** How its seller stands on card statements; `null`: as the site. */
			statementName: string | null;
			/** Where something is sent by post, said to the member themselves only. */
			postal: Postal | null;
			/** When what was bought begins, where that is still to come. */
			begins: number | null;
			/** For whom it was bought, and when they are told; `null`: for oneself. */
			gift: { email: string; tellAt: number; isTold: boolean } | null;
	  }
	/** Asked for nothing. Strangers read the same, whether the address is known or new: `mayOpen` here is the plan's. */
	| {
			kind: 'free';
			planName: string;
			isSeveral: boolean;
			note: string;
			email: string;
			landing: string | null;
			begins: number | null;
			mayOpen: boolean;
			postal: Postal | null;
			session: null;
	  };

/** The thank-you page of an order. It signs in once: the device that ordered, where this order made the account theirs. */
export async function thank(
	app: Transacting,
	orderId: string,
	device: string | null,
	memberId: string | null
): Promise<Thanks | null> {
	const order = await ownOrder(app, orderId, device, memberId);
	if (!order) return null;
	const line = await lineOf(app.db, order.id);
	const plan = await planById(app.db, line.planId);
	if (!plan) return null;
	const plans = await plansOfOrder(app.db, order.id);
	const planName = plans.map(({ name }) => name).join(', ');
	const note = plans.flatMap((one) => one.note || []).join('\n\n');
	const mayOpen = plans.every(({ isOpenAtOnce }) => isOpenAtOnce);
	const isSeveral = plans.length > 1;
	const isFree = (await paymentsOfOrder(app.db, order.id)).length === 0;
	if (isFree) {
		const isOwn = memberId !== null && memberId === order.memberId && order.paidAt !== null;
		const landing = isOwn ? await landingPath(app, arriving(order, memberId, plan.id)) : null;
		const email = await addressOf(app, order);
		const begins = isOwn ? await beginsLater(app, order.id) : null;
		const shown = {
			kind: 'free' as const,
			planName,
			isSeveral,
			note: isOwn ? note : '',
			email,
			landing,
			begins,
			mayOpen
		};
		return { ...shown, postal: isOwn ? order.postal : null, session: null };
	}
	if (order.paidAt === null || order.memberId === null) return null;
	const account = await accountById(app.db, order.memberId);
	if (!account?.email) return null;
	const session = memberId === null && device !== null ? await signInOnce(app, order, device) : null;
	const isIn = session !== null || memberId === account.id;
	const gift = await giftOfOrder(app.db, order.id);
	return {
		kind: 'paid',
		number: order.number,
		planName,
		isSeveral,
		// What is said to whoever has it is said to them.
		note: isIn && order.state === 'paid' && !gift ? note : '',
		totalMinor: order.totalMinor,
		currency: order.currency,
		email: account.email,
		landing: isIn && !gift ? await landingPath(app, arriving(order, account.id, plan.id)) : '/account',
		session,
		isIn,
		isByCard: order.processor === 'card' && order.totalMinor > 0,
		isGivenBack: isIn && order.state === 'given-back',
		statementName: plan.statementName,
		postal: isIn && order.state === 'paid' ? order.postal : null,
		begins: isIn && !gift ? await beginsLater(app, order.id) : null,
		gift: isIn && gift ? shownGift(gift, app.clock.business()) : null
	};
}

/** The first day of what was bought, where all of that is still to come. */
async function beginsLater(app: Using<'clock' | 'db'>, orderId: string): Promise<number | null> {
	const begin = (await agreementsOfOrder(app.db, orderId)).map(({ anchor }) => anchor);
	const first = Math.min(...begin);
	return begin.length > 0 && first > app.clock.business() ? first : null;
}

function shownGift({ email, tellAt }: Gift, now: number) {
	return { email: email ?? '', tellAt, isTold: tellAt <= now };
}

/** Where joining for nothing has made the account, this device is signed in; `null`: the way in is in the mail. */
export async function openFree(
	app: Transacting,
	orderId: string,
	device: string | null
): Promise<{ session: NewSession; landing: string } | null> {
	const order = device === null ? null : await ownOrder(app, orderId, device, null);
	const session = order && device !== null ? await signInOnce(app, order, device) : null;
	if (!order?.memberId || !session) return null;
	const { planId } = await lineOf(app.db, order.id);
	return { session, landing: await landingPath(app, arriving(order, order.memberId, planId)) };
}

function arriving({ next }: Order, memberId: string, planId: string): Arriving {
	return { memberId, planId, next };
}

const TAKEN_BACK: ReadonlySet<PaymentStanding> = new Set(['refunded', 'disputed', 'lost']);

async function signInOnce(app: Transacting, order: Order, device: string): Promise<NewSession | null> {
	const { memberId, paidAt } = order;
	if (memberId === null || paidAt === null || order.state !== 'paid') return null;
	if (hashOf(device) !== order.deviceHash || app.clock.business() - paidAt >= SIGNS_IN_FOR_MS) return null;
	return transact(app, { id: memberId }, async (work) => {
		await lockAccount(work.tx, memberId);
		const account = await accountById(work.tx, memberId);
		if (account?.claimedByOrderId !== order.id || account.provedAt !== null) return null;
		const first = (await paymentsOfOrder(work.tx, order.id)).filter((one) => one.agreementId === null);
		if (first.some((payment) => TAKEN_BACK.has(standingOf(payment)))) return null;
		const [signed] = await work.tx
			.update(orders)
			.set({ signedInAt: work.now })
			.where(and(eq(orders.id, order.id), isNull(orders.signedInAt)));
		return signed.affectedRows === 1 ? beginSession(work, memberId, 'order') : null;
	});
}
