/** The Desk's lists of what is sold: payments, subscriptions and orders, searched, narrowed, ordered and paged by the database. */
import { and, eq, gt, gte, inArray, isNotNull, like, lt, or, sql, type SQL } from 'drizzle-orm';
import type { AgreementState } from '$core/billing/agreement-facts';
import { MAIN_KINDS, type OrderState } from '$core/billing/order';
import { PAYMENT_STATES, standingOf } from '$core/billing/payment';
import type { Handle } from '../connect';
import { accounts } from '../schema/people';
import { agreements, orderLines, orders, payments, plans } from '../schema/sales';
import { containing } from './library';
import { ordering, PAGE_SIZE, total, type ListAsk } from './lists';

/** What every list of sales is narrowed by. */
export interface SalesAsk<Shown> extends ListAsk {
	/** `null`: all. */
	shown: Shown | null;
	planId: string | null;
	/** From a moment on, and before one. */
	days: { from: number | null; to: number | null };
}

type Moments = typeof payments.createdAt | typeof agreements.anchor | typeof orders.createdAt;

function within(column: Moments, { from, to }: SalesAsk<unknown>['days']): SQL | undefined {
	return and(from === null ? undefined : gte(column, from), to === null ? undefined : lt(column, to));
}

/** By the name and address of whoever bought it, the number, and the address that a gift is for. */
function found(search: string): SQL | undefined {
	if (search === '') return undefined;
	const wanted = containing(search);
	return or(
		like(accounts.name, wanted),
		like(accounts.email, wanted),
		like(orders.number, wanted),
		sql`exists(select 1 from gifts where gifts.order_id = ${orders.id} and gifts.email like ${wanted})`
	);
}

/** Of orders that are for a plan. Asked apart: joined, the database would begin with every line that there is. */
function forPlan(
	orderId: typeof orders.id | typeof payments.orderId,
	planId: string | null
): SQL | undefined {
	return planId === null
		? undefined
		: sql`exists(select 1 from order_lines where order_lines.order_id = ${orderId} and order_lines.plan_id = ${planId})`;
}

const AT_ONCE = 1000;

/** What an order is of: what it says, and what the plan is called by now. */
interface BoughtLine {
	text: string;
	plan: string | null;
	agreementId: string | null;
}

/**
 * What the orders of a list are for, by their ids. Of an order of several things, what one of their agreements asks for is for
 * that one.
 */
async function boughtBy(db: Handle, orderIds: readonly string[]) {
	const bought = new Map<string, BoughtLine[]>();
	const all = [...new Set(orderIds)];
	for (let n = 0; n < all.length; n += AT_ONCE) {
		const some = all.slice(n, n + AT_ONCE);
		const { orderId, text, agreementId } = orderLines;
		const rows = await db
			.select({ orderId, text, agreementId, plan: plans.name })
			.from(orderLines)
			.leftJoin(plans, eq(plans.id, orderLines.planId))
			.where(and(inArray(orderLines.orderId, some), inArray(orderLines.kind, MAIN_KINDS)))
			.orderBy(orderLines.position);
		for (const { orderId: of, ...line } of rows) bought.set(of, [...(bought.get(of) ?? []), line]);
	}
	return (orderId: string, agreementId: string | null = null) => {
		const lines = bought.get(orderId) ?? [];
		const own = lines.filter((line) => agreementId !== null && line.agreementId === agreementId);
		const meant = own.length > 0 ? own : lines;
		return {
			text: meant.map(({ text }) => text).join(', '),
			plan: meant.flatMap(({ plan }) => plan ?? []).join(', ') || null
		};
	};
}

/** Those that wait for money without a card, and what became of the others. */
export const PAYMENTS_SHOWN = ['waiting', 'paid', 'declined', 'refunded', 'disputed'] as const;
export type PaymentsAsk = SalesAsk<(typeof PAYMENTS_SHOWN)[number]>;

/** Whatever somebody has tried to pay. */
const LISTED = PAYMENT_STATES.filter((state) => state !== 'pending' && state !== 'expired');

function paymentsAs(shown: PaymentsAsk['shown']): SQL | undefined {
	switch (shown) {
		case 'waiting':
			return and(eq(payments.state, 'pending'), eq(payments.processor, 'offline'));
		case 'paid':
		case 'refunded':
		case 'disputed':
			return and(
				eq(payments.state, 'captured'),
				shown === 'refunded' ? gt(payments.refundedMinor, 0) : undefined,
				shown === 'disputed' ? isNotNull(payments.dispute) : undefined
			);
		case 'declined':
			return eq(payments.state, 'declined');
		case null:
			return inArray(payments.state, LISTED);
	}
}

function paymentsWhere({ search, shown, planId, days }: PaymentsAsk): SQL | undefined {
	return and(
		paymentsAs(shown),
		isNotNull(payments.memberId),
		gt(payments.amountMinor, 0),
		within(payments.createdAt, days),
		forPlan(payments.orderId, planId),
		found(search)
	);
}

/** Rows of the list, as many as are asked for. */
export async function paymentRows(db: Handle, ask: PaymentsAsk, limit: number, offset = 0) {
	const rows = await db
		.select({
			id: payments.id,
			orderId: orders.id,
			agreementId: payments.agreementId,
			number: orders.number,
			memberId: accounts.id,
			name: accounts.name,
			state: payments.state,
			processor: payments.processor,
			refundedMinor: payments.refundedMinor,
			dispute: payments.dispute,
			period: payments.period,
			amountMinor: payments.amountMinor,
			currency: payments.currency,
			at: payments.createdAt
		})
		.from(payments)
		.innerJoin(orders, eq(orders.id, payments.orderId))
		.innerJoin(accounts, eq(accounts.id, payments.memberId))
		.where(paymentsWhere(ask))
		.orderBy(
			...ordering(
				ask.order,
				{ at: payments.createdAt, name: accounts.name, amount: payments.amountMinor, state: payments.state },
				'at',
				payments.id
			)
		)
		.limit(limit)
		.offset(offset);
	const bought = await boughtBy(
		db,
		rows.map(({ orderId }) => orderId)
	);
	return rows.map((row) => ({ ...row, ...bought(row.orderId, row.agreementId), standing: standingOf(row) }));
}

export async function paymentList(db: Handle, ask: PaymentsAsk) {
	const rows = await paymentRows(db, ask, PAGE_SIZE, (ask.page - 1) * PAGE_SIZE);
	const all = db.select({ total }).from(payments).$dynamic();
	const searched = () =>
		all
			.innerJoin(orders, eq(orders.id, payments.orderId))
			.innerJoin(accounts, eq(accounts.id, payments.memberId));
	const [count] = await (ask.search === '' ? all : searched()).where(paymentsWhere(ask));
	return { rows, total: count?.total ?? 0 };
}

/** Of what is paid by and by: how it stands. */
export const AGREEMENTS_SHOWN = ['running', 'owing', 'ending', 'resting', 'finished', 'ended'] as const;
export type AgreementsAsk = SalesAsk<(typeof AGREEMENTS_SHOWN)[number]>;

const STATES_SHOWN: Record<(typeof AGREEMENTS_SHOWN)[number], readonly AgreementState['kind'][]> = {
	running: ['first', 'running', 'renewing'],
	owing: ['owing'],
	ending: ['ending'],
	resting: ['resting'],
	finished: ['finished'],
	ended: ['ended']
};

const ALL_STATES = Object.values(STATES_SHOWN).flat();

/** What is paid once is no subscription: it stands among the orders. */
function agreementsWhere({ search, shown, planId, days }: AgreementsAsk): SQL | undefined {
	return and(
		isNotNull(agreements.periodUnit),
		inArray(agreements.state, shown === null ? ALL_STATES : [...STATES_SHOWN[shown]]),
		within(agreements.anchor, days),
		planId === null ? undefined : eq(agreements.planId, planId),
		found(search)
	);
}

export async function agreementRows(db: Handle, ask: AgreementsAsk, limit: number, offset = 0) {
	return db
		.select({
			id: agreements.id,
			orderId: orders.id,
			number: orders.number,
			memberId: accounts.id,
			name: accounts.name,
			plan: plans.name,
			agreed: agreements.agreed,
			state: agreements.state,
			attempt: agreements.attempt,
			nextAt: agreements.nextAt,
			nextMinor: agreements.nextMinor,
			paidThrough: agreements.paidThrough,
			processor: agreements.processor,
			at: agreements.anchor
		})
		.from(agreements)
		.innerJoin(orderLines, eq(orderLines.id, agreements.orderLineId))
		.innerJoin(orders, eq(orders.id, orderLines.orderId))
		.innerJoin(accounts, eq(accounts.id, agreements.memberId))
		.leftJoin(plans, eq(plans.id, agreements.planId))
		.where(agreementsWhere(ask))
		.orderBy(
			...ordering(
				ask.order,
				{ at: agreements.anchor, name: accounts.name, next: agreements.nextAt },
				'at',
				agreements.id
			)
		)
		.limit(limit)
		.offset(offset);
}

export async function agreementList(db: Handle, ask: AgreementsAsk) {
	const rows = await agreementRows(db, ask, PAGE_SIZE, (ask.page - 1) * PAGE_SIZE);
	const all = db.select({ total }).from(agreements).$dynamic();
	const searched = () =>
		all
			.innerJoin(orderLines, eq(orderLines.id, agreements.orderLineId))
			.innerJoin(orders, eq(orders.id, orderLines.orderId))
			.innerJoin(accounts, eq(accounts.id, agreements.memberId));
	const [count] = await (ask.search === '' ? all : searched()).where(agreementsWhere(ask));
	return { rows, total: count?.total ?? 0 };
}

/** What became of orders; those that were begun anew elsewhere stand only among all. */
export const ORDERS_SHOWN = [
	'paid',
	'waiting',
	'part-paid',
	'open',
	'expired',
	'refused',
	'given-back'
] as const;
export type OrdersAsk = SalesAsk<OrderState & (typeof ORDERS_SHOWN)[number]>;

/** A stranger's order that is not paid makes no member, and stands nowhere at the Desk. */
function ordersWhere({ search, shown, planId, days }: OrdersAsk): SQL | undefined {
	return and(
		isNotNull(orders.memberId),
		shown === null ? undefined : eq(orders.state, shown),
		within(orders.createdAt, days),
		forPlan(orders.id, planId),
		found(search)
	);
}

export async function orderRows(db: Handle, ask: OrdersAsk, limit: number, offset = 0) {
	const rows = await db
		.select({
			id: orders.id,
			number: orders.number,
			memberId: accounts.id,
			name: accounts.name,
			totalMinor: orders.totalMinor,
			currency: orders.currency,
			processor: orders.processor,
			state: orders.state,
			at: orders.createdAt
		})
		.from(orders)
		.innerJoin(accounts, eq(accounts.id, orders.memberId))
		.where(ordersWhere(ask))
		.orderBy(
			...ordering(
				ask.order,
				{ at: orders.createdAt, name: accounts.name, amount: orders.totalMinor },
				'at',
				orders.id
			)
		)
		.limit(limit)
		.offset(offset);
	const bought = await boughtBy(
		db,
		rows.map(({ id }) => id)
	);
	return rows.map((row) => ({ ...row, ...bought(row.id) }));
}

export async function orderList(db: Handle, ask: OrdersAsk) {
	const rows = await orderRows(db, ask, PAGE_SIZE, (ask.page - 1) * PAGE_SIZE);
	const all = db.select({ total }).from(orders).$dynamic();
	const searched = () => all.innerJoin(accounts, eq(accounts.id, orders.memberId));
	const [count] = await (ask.search === '' ? all : searched()).where(ordersWhere(ask));
	return { rows, total: count?.total ?? 0 };
}
