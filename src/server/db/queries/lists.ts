/** The Desk's long tables: searched, ordered and paged by the database, so that 100,000 rows are no burden. */
import { and, asc, desc, eq, gt, inArray, isNotNull, like, or, sql, type SQL } from 'drizzle-orm';
import { PAYMENT_STATES, standingOf } from '$core/billing/payment';
import type { Handle } from '../connect';
import { accounts } from '../schema/people';
import { orders, payments } from '../schema/sales';
import { containing } from './library';

export interface ListAsk {
	search: string;
	/** A column's key, with a minus in front for descending. */
	order: string;
	page: number;
}

export const PAGE_SIZE = 50;

export const total = sql<number>`count(*)`.mapWith(Number);

/** What of sales a list shows: those that wait for money without a card, and what became of the others. */
export const SALES_SHOWN = ['waiting', 'paid', 'declined', 'refunded', 'disputed'] as const;
export type SalesShown = (typeof SALES_SHOWN)[number];

/** Whatever somebody has tried to pay. */
const LISTED = PAYMENT_STATES.filter((state) => state !== 'pending' && state !== 'expired');

function shownAs(shown: SalesShown | null): SQL | undefined {
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

export interface SalesAsk extends ListAsk {
	/** `null`: all that was tried. */
	shown: SalesShown | null;
}

function salesWhere({ search, shown }: SalesAsk): SQL | undefined {
	const wanted = containing(search);
	return and(
		shownAs(shown),
		isNotNull(payments.memberId),
		gt(payments.amountMinor, 0),
		search === ''
			? undefined
			: or(
					like(accounts.name, wanted),
					like(accounts.email, wanted),
					like(orders.number, wanted),
					sql`exists(select 1 from gifts where gifts.order_id = ${orders.id} and gifts.email like ${wanted})`
				)
	);
}

/** Rows of the list, as many as are asked for. */
export async function paymentRows(db: Handle, ask: SalesAsk, limit: number, offset = 0) {
	const rows = await db
		.select({
			id: payments.id,
			orderId: orders.id,
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
		.where(salesWhere(ask))
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
	return rows.map((row) => ({ ...row, standing: standingOf(row) }));
}

export async function paymentList(db: Handle, ask: SalesAsk) {
	const rows = await paymentRows(db, ask, PAGE_SIZE, (ask.page - 1) * PAGE_SIZE);
	const all = db.select({ total }).from(payments).$dynamic();
	const searched = () =>
		all
			.innerJoin(orders, eq(orders.id, payments.orderId))
			.innerJoin(accounts, eq(accounts.id, payments.memberId));
	const [count] = await (ask.search === '' ? all : searched()).where(salesWhere(ask));
	return { rows, total: count?.total ?? 0 };
}

type Column = Parameters<typeof asc>[0];

/** By the column that is asked for, else by `otherwise` from its end; what is equal in the order of its ids, the same way. */
export function ordering(
	order: string,
	columns: Record<string, Column>,
	otherwise: string,
	id: Column
): SQL[] {
	const isKnown = Object.hasOwn(columns, order.replace(/^-/, ''));
	const asked = isKnown ? order : `-${otherwise}`;
	const column = columns[asked.replace(/^-/, '')] as Column;
	const way = asked.startsWith('-') ? desc : asc;
	return [way(column), way(id)];
}

/** Of members, the newest first. */
export async function newestOrdersOf(db: Handle, limit: number) {
	return db
		.select({ number: orders.number, name: accounts.name })
		.from(orders)
		.innerJoin(accounts, eq(accounts.id, orders.memberId))
		.where(isNotNull(orders.memberId))
		.orderBy(desc(orders.createdAt))
		.limit(limit);
}
