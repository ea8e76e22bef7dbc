/** The Desk's long tables: searched, ordered and paged by the database, so that 100,000 rows are no burden. */
import { asc, desc, eq, isNotNull, sql, type SQL } from 'drizzle-orm';
import type { Handle } from '../connect';
import { accounts } from '../schema/people';
import { orders } from '../schema/sales';

export interface ListAsk {
	search: string;
	/** A column's key, with a minus in front for descending. */
	order: string;
	page: number;
}

export const PAGE_SIZE = 50;

export const total = sql<number>`count(*)`.mapWith(Number);

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
