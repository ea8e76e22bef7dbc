import { and, desc, eq, inArray, notInArray, sql } from 'drizzle-orm';
import { regularMinor } from '$core/billing/terms';
import type { Handle, Tx } from '../connect';
import { groupedBy } from './members';
import {
	cards,
	disputes,
	documents,
	numberSeries,
	orderLines,
	orders,
	payments,
	plans,
	prices,
	priceVersions,
	refunds
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

export async function refundsOf(db: Handle, paymentId: string) {
	return db
		.select()
		.from(refunds)
		.where(eq(refunds.paymentId, paymentId))
		.orderBy(refunds.askedAt, refunds.id);
}

export async function refundById(db: Handle, id: string) {
	const [row] = await db.select().from(refunds).where(eq(refunds.id, id));
	return row ?? null;
}

export async function cardByRef(db: Handle, ref: string) {
	const [row] = await db.select().from(cards).where(eq(cards.ref, ref));
	return row ?? null;
}

export async function cardsOf(db: Handle, memberId: string) {
	return db.select().from(cards).where(eq(cards.memberId, memberId));
}

export async function disputesOf(db: Handle, paymentId: string) {
	return db
		.select()
		.from(disputes)
		.where(eq(disputes.paymentId, paymentId))
		.orderBy(disputes.openedAt, disputes.id);
}

/** A member's payments, the newest first, each with the documents of it. */
export async function paymentsOf(db: Handle, memberId: string) {
	const rows = await db
		.select()
		.from(payments)
		.where(and(eq(payments.memberId, memberId), notInArray(payments.state, ['pending', 'expired'])))
		.orderBy(desc(payments.createdAt), desc(payments.id));
	const papers = await db
		.select({ paymentId: documents.paymentId, kind: documents.kind, number: documents.number })
		.from(documents)
		.where(eq(documents.memberId, memberId))
		.orderBy(documents.issuedAt, documents.number);
	const own = groupedBy(papers, ({ paymentId }) => paymentId);
	return rows.map((payment) => ({ ...payment, documents: own.get(payment.id) ?? [] }));
}

export async function documentByNumber(db: Handle, number: string) {
	const [row] = await db.select().from(documents).where(eq(documents.number, number));
	return row ?? null;
}

/** Numbers of the documents that correct one. */
export async function correctionsOf(db: Handle, number: string): Promise<string[]> {
	const rows = await db
		.select({ number: documents.number })
		.from(documents)
		.where(eq(documents.corrects, number))
		.orderBy(documents.issuedAt, documents.number);
	return rows.map((row) => row.number);
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
