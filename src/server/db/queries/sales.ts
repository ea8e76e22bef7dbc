import { and, desc, eq, inArray, notInArray, sql } from 'drizzle-orm';
import { regularMinor } from '$core/billing/terms';
import type { Handle, Tx } from '../connect';
import {
	numberSeries,
	orderLines,
	orders,
	payments,
	plans,
	prices,
	priceVersions,
	receipts
} from '../schema/sales';

export type Plan = typeof plans.$inferSelect;
export type PriceVersion = typeof priceVersions.$inferSelect;
export type Order = typeof orders.$inferSelect;
export type Payment = typeof payments.$inferSelect;
export type OfferedPlan = Plan & { price: PriceVersion };

/** Plans with the version of their price that is on sale now, cheapest first. */
export async function plansWithPrices(db: Handle): Promise<OfferedPlan[]> {
	const rows = await db
		.select({ plan: plans, price: priceVersions })
		.from(plans)
		.innerJoin(prices, eq(prices.planId, plans.id))
		.innerJoin(priceVersions, eq(priceVersions.priceId, prices.id))
		.where(
			eq(
				priceVersions.version,
				sql`(select max(newer.version) from price_versions newer where newer.price_id = ${prices.id})`
			)
		)
		.orderBy(plans.id);
	return rows
		.map(({ plan, price }) => ({ ...plan, price }))
		.sort((a, b) => regularMinor(a.price.terms) - regularMinor(b.price.terms));
}

export async function planBySlug(db: Handle, slug: string): Promise<OfferedPlan | null> {
	return (await plansWithPrices(db)).find((plan) => plan.slug === slug) ?? null;
}

export async function planById(db: Handle, id: string): Promise<OfferedPlan | null> {
	return (await plansWithPrices(db)).find((plan) => plan.id === id) ?? null;
}

export async function priceVersionById(db: Handle, id: string): Promise<PriceVersion> {
	const [row] = await db.select().from(priceVersions).where(eq(priceVersions.id, id));
	if (!row) throw new Error(`There is no price version ${id}`);
	return row;
}

export async function orderById(db: Handle, id: string): Promise<Order | null> {
	const [row] = await db.select().from(orders).where(eq(orders.id, id));
	return row ?? null;
}

/** The order, its row locked: everything that settles money takes this lock first. */
export async function lockOrder(tx: Tx, id: string): Promise<Order> {
	const [row] = await tx.select().from(orders).where(eq(orders.id, id)).for('update');
	if (!row) throw new Error(`There is no order ${id}`);
	return row;
}

/** The line of the plan that an order is for. */
export async function lineOf(db: Handle, orderId: string) {
	const [row] = await db
		.select()
		.from(orderLines)
		.where(and(eq(orderLines.orderId, orderId), eq(orderLines.kind, 'plan')));
	if (!row) throw new Error(`Order ${orderId} has no line`);
	return row;
}

export async function linesOfOrder(db: Handle, orderId: string) {
	return db.select().from(orderLines).where(eq(orderLines.orderId, orderId)).orderBy(orderLines.id);
}

export async function lineById(db: Handle, id: string) {
	const [row] = await db.select().from(orderLines).where(eq(orderLines.id, id));
	return row ?? null;
}

export async function paymentById(db: Handle, id: string): Promise<Payment | null> {
	const [row] = await db.select().from(payments).where(eq(payments.id, id));
	return row ?? null;
}

export async function paymentByRef(db: Handle, processorRef: string): Promise<Payment | null> {
	const [row] = await db.select().from(payments).where(eq(payments.processorRef, processorRef));
	return row ?? null;
}

export async function paymentsOfOrder(db: Handle, orderId: string): Promise<Payment[]> {
	return db
		.select()
		.from(payments)
		.where(eq(payments.orderId, orderId))
		.orderBy(desc(payments.createdAt), desc(payments.id));
}

export async function paymentsOf(db: Handle, memberId: string) {
	const rows = await db
		.select({ payment: payments, receipt: receipts.number })
		.from(payments)
		.leftJoin(receipts, and(eq(receipts.paymentId, payments.id), eq(receipts.kind, 'payment')))
		.where(and(eq(payments.memberId, memberId), notInArray(payments.state, ['pending', 'expired'])))
		.orderBy(desc(payments.createdAt), desc(payments.id));
	return rows.map(({ payment, receipt }) => ({ ...payment, receipt }));
}

export async function receiptByNumber(db: Handle, number: string) {
	const [row] = await db.select().from(receipts).where(eq(receipts.number, number));
	return row ?? null;
}

export async function planNames(db: Handle, ids: readonly string[]): Promise<Map<string, string>> {
	if (ids.length === 0) return new Map();
	const rows = await db
		.select({ id: plans.id, name: plans.name })
		.from(plans)
		.where(inArray(plans.id, [...ids]));
	return new Map(rows.map((row) => [row.id, row.name]));
}

/** The next number of a series, without gaps: the row stays locked until the transaction ends. */
export async function nextNumber(tx: Tx, series: string): Promise<number> {
	await tx
		.insert(numberSeries)
		.values({ series, last: 1 })
		.onDuplicateKeyUpdate({ set: { last: sql`last + 1` } });
	const [row] = await tx.select().from(numberSeries).where(eq(numberSeries.series, series));
	return row?.last ?? 1;
}
