import { and, desc, eq, gt, inArray, isNotNull, notInArray, sql, type SQL } from 'drizzle-orm';
import { AWAITED, MAIN_KINDS } from '$core/billing/order';
import type { OrderTax } from '$core/billing/tax';
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
/** A price as it is now. */
export type OfferedPrice = PriceVersion & {
	name: string;
	isOnSale: boolean;
	/** For so many buyers it is, the first; `null`: for all. */
	firstBuyers: number | null;
	/** How many more may buy at it, where that was asked (`withPlaces`); `null`: any number. */
	left?: number | null;
};
/** `prices`: those on sale, the first choice first; there is always one, `price`. `isFull`: nothing is left of any of them. */
export type OfferedPlan = Plan & { price: OfferedPrice; prices: OfferedPrice[]; isFull?: boolean };

/** Plans with what they cost now, as the publisher has put them in order; where nobody has, the cheapest first. */
export function plansWithPrices(db: Handle): Promise<OfferedPlan[]> {
	return offeredPlans(db, undefined);
}

async function offeredPlans(db: Handle, which: SQL | undefined): Promise<OfferedPlan[]> {
	const rows = await db
		.select({ plan: plans, of: prices, version: priceVersions })
		.from(plans)
		.innerJoin(prices, eq(prices.planId, plans.id))
		.innerJoin(priceVersions, eq(priceVersions.priceId, prices.id))
		.where(
			and(
				which,
				eq(
					priceVersions.version,
					sql`(select max(newer.version) from price_versions newer where newer.price_id = ${prices.id})`
				)
			)
		)
		.orderBy(plans.id, prices.position, prices.id);
	return [...groupedBy(rows, ({ plan }) => plan.id).values()]
		.flatMap((own) => offered(own) ?? [])
		.sort((a, b) => a.position - b.position || priceOf(a) - priceOf(b));
}

const priceOf = ({ price }: OfferedPlan) => regularMinor(price.terms);

interface PlanRow {
	plan: Plan;
	of: typeof prices.$inferSelect;
	version: PriceVersion;
}

function offered(own: readonly PlanRow[]): OfferedPlan | null {
	const all = own.map(priceOfRow);
	const onSale = all.filter(({ isOnSale }) => isOnSale);
	const [plan, price] = [own[0]?.plan, onSale[0] ?? all[0]];
	return plan && price ? { ...plan, price, prices: onSale.length > 0 ? onSale : [price] } : null;
}

function priceOfRow({ of: { name, isOnSale, firstBuyers }, version }: Omit<PlanRow, 'plan'>): OfferedPrice {
	return { ...version, name, isOnSale, firstBuyers };
}

/** All prices of a plan as they are now, those that are not sold any more last. */
export async function pricesOf(db: Handle, planId: string): Promise<OfferedPrice[]> {
	const newest = sql`(select max(newer.version) from price_versions newer where newer.price_id = ${prices.id})`;
	const rows = await db
		.select({ of: prices, version: priceVersions })
		.from(prices)
		.innerJoin(priceVersions, eq(priceVersions.priceId, prices.id))
		.where(and(eq(prices.planId, planId), eq(priceVersions.version, newest)))
		.orderBy(desc(prices.isOnSale), prices.position, prices.id);
	return rows.map(priceOfRow);
}

export async function planBySlug(db: Handle, slug: string): Promise<OfferedPlan | null> {
	return (await offeredPlans(db, eq(plans.slug, slug)))[0] ?? null;
}

export async function planById(db: Handle, id: string): Promise<OfferedPlan | null> {
	// Ids come in addresses, too.
	if (!/^[0-9a-f-]{36}$/.test(id)) return null;
	return (await offeredPlans(db, eq(plans.id, id)))[0] ?? null;
}

/** In no order. */
export async function plansByIds(db: Handle, ids: readonly string[]): Promise<Plan[]> {
	return ids.length === 0
		? []
		: db
				.select()
				.from(plans)
				.where(inArray(plans.id, [...ids]));
}

/** The plan that sells an item alone. */
export async function planOfItem(db: Handle, itemId: string): Promise<OfferedPlan | null> {
	return (await offeredPlans(db, eq(plans.soleItemId, itemId)))[0] ?? null;
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
	const row = await orderIfThere(tx, id);
	if (!row) throw new Error(`There is no order ${id}`);
	return row;
}

/** The same of one that may be forgotten by now. */
export async function orderIfThere(tx: Tx, id: string): Promise<Order | null> {
	const [row] = await tx.select().from(orders).where(eq(orders.id, id)).for('update');
	return row ?? null;
}

export type OrderLine = typeof orderLines.$inferSelect;

/** The line that says what an order is of first: every order has one. */
export const isHead = and(inArray(orderLines.kind, MAIN_KINDS), eq(orderLines.position, 0));

/** What an order is of, as its lines say it: beside the row of the order. */
export const textOfOrder = sql<string>`(select group_concat(of_it.text order by of_it.position separator ', ') from order_lines of_it where of_it.order_id = orders.id and of_it.kind <> 'fee')`;

/** What of an order has not come in yet, beside its row. */
const leftOfOrder =
	sql<number>`orders.total_minor - coalesce((select sum(came.amount_minor) from payments came where came.order_id = orders.id and came.state = 'captured' and came.agreement_id is null), 0)`.mapWith(
		Number
	);

/** A line for each thing of an order, as they were put. */
export async function mainLinesOf(db: Handle, orderId: string) {
	return db
		.select()
		.from(orderLines)
		.where(and(eq(orderLines.orderId, orderId), inArray(orderLines.kind, MAIN_KINDS)))
		.orderBy(orderLines.position);
}

/** The plans that an order is of, as they are by now, in the order in which they were put. */
export async function plansOfOrder(db: Handle, orderId: string): Promise<Plan[]> {
	const rows = await db
		.select({ plan: plans })
		.from(orderLines)
		.innerJoin(plans, eq(plans.id, orderLines.planId))
		.where(and(eq(orderLines.orderId, orderId), inArray(orderLines.kind, MAIN_KINDS)))
		.orderBy(orderLines.position);
	return rows.map(({ plan }) => plan);
}

/** The first of them. */
export async function lineOf(db: Handle, orderId: string) {
	const [row] = await db
		.select()
		.from(orderLines)
		.where(and(eq(orderLines.orderId, orderId), isHead));
	if (!row) throw new Error(`Order ${orderId} has no line`);
	return row;
}

export async function linesOfOrder(db: Handle, orderId: string) {
	return db
		.select()
		.from(orderLines)
		.where(eq(orderLines.orderId, orderId))
		.orderBy(orderLines.position, orderLines.id);
}

export async function lineById(db: Handle, id: string) {
	const [row] = await db.select().from(orderLines).where(eq(orderLines.id, id));
	return row ?? null;
}

/** A payment with its order locked; read again behind the lock. */
export async function paymentBehindLock(
	tx: Tx,
	id: string
): Promise<{ payment: Payment; order: Order } | null> {
	const known = await paymentById(tx, id);
	if (!known) return null;
	const order = await lockOrder(tx, known.orderId);
	const payment = await paymentById(tx, id);
	return payment && { payment, order };
}

export async function paymentById(db: Handle, id: string): Promise<Payment | null> {
	const [row] = await db.select().from(payments).where(eq(payments.id, id));
	return row ?? null;
}

/** Those that there are, with their orders. */
export async function paymentsWithOrders(
	db: Handle,
	ids: readonly string[]
): Promise<{ payment: Payment; order: Order }[]> {
	if (ids.length === 0) return [];
	return db
		.select({ payment: payments, order: orders })
		.from(payments)
		.innerJoin(orders, eq(orders.id, payments.orderId))
		.where(inArray(payments.id, [...ids]))
		.orderBy(payments.id);
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

export async function disputeById(db: Handle, id: string) {
	const [row] = await db.select().from(disputes).where(eq(disputes.id, id));
	return row ?? null;
}

/** What was asked of a member who pays by themselves, with the number of the order that it goes by. */
export async function askedOffline(db: Handle, memberId: string) {
	const { id, agreementId, orderId, amountMinor, currency, createdAt } = payments;
	return db
		.select({ id, agreementId, orderId, amountMinor, currency, createdAt, number: orders.number })
		.from(payments)
		.innerJoin(orders, eq(orders.id, payments.orderId))
		.where(
			and(
				eq(payments.memberId, memberId),
				eq(payments.state, 'pending'),
				eq(payments.processor, 'offline'),
				isNotNull(payments.agreementId)
			)
		)
		.orderBy(payments.id);
}

/** Orders of a member that wait for their money. */
export async function waitingOrders(db: Handle, memberId: string) {
	return db
		.select({
			id: orders.id,
			number: orders.number,
			plan: textOfOrder,
			/** What has not come in yet. */
			amountMinor: leftOfOrder,
			currency: orders.currency
		})
		.from(orders)
		.where(and(eq(orders.memberId, memberId), inArray(orders.state, [...AWAITED])))
		.orderBy(orders.id);
}

/** A member's payments, the newest first, each with the documents of it. */
export async function paymentsOf(db: Handle, memberId: string) {
	const rows = await db
		.select()
		.from(payments)
		.where(
			and(
				eq(payments.memberId, memberId),
				notInArray(payments.state, ['pending', 'expired']),
				// Where a card was kept and nothing paid, nothing came in.
				gt(payments.amountMinor, 0)
			)
		)
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

/** How a plan's seller stands on card statements; `null`: as the site. */
export async function statementNameOf(db: Handle, planId: string | undefined): Promise<string | null> {
	if (planId === undefined) return null;
	const [row] = await db.select({ name: plans.statementName }).from(plans).where(eq(plans.id, planId));
	return row?.name ?? null;
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

/** What a member said of themselves for the tax when they bought last; `null`: they were not asked. */
export async function lastTaxOf(db: Handle, memberId: string): Promise<OrderTax | null> {
	const rows = await db
		.select({ tax: orders.tax })
		.from(orders)
		.where(and(eq(orders.memberId, memberId), eq(orders.state, 'paid')))
		.orderBy(desc(orders.createdAt))
		.limit(5);
	return rows.find(({ tax }) => tax?.buyer.country)?.tax ?? null;
}
