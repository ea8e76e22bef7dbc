/** What plans, prices, codes and single items earned, by the ledger; and what became of first stretches and declined cards. */
import { and, asc, eq, gte, isNotNull, lt, sql, type SQL } from 'drizzle-orm';
import type { Booked } from '$core/measure/earned';
import type { AgreementState } from '$core/billing/agreement-facts';
import type { Handle } from '../connect';
import { codes } from '../schema/access';
import { itemTexts } from '../schema/library';
import {
	agreements,
	ledgerEntries,
	ledgerPostings,
	orderLines,
	orders,
	payments,
	plans,
	priceVersions,
	prices
} from '../schema/sales';

/** By what earnings are told apart. */
export const EARNERS = ['plan', 'price', 'code', 'item'] as const;
export type Earner = (typeof EARNERS)[number];

/** Moments, `[from, before)`. */
export interface Within {
	from: number;
	before: number;
}

const booked = ({ from, before }: Within) =>
	and(isNotNull(ledgerPostings.planId), gte(ledgerEntries.at, from), lt(ledgerEntries.at, before));

/** The column that an earner is found by; what is for none of them is left out. */
const KEY: Record<Earner, SQL<string | null>> = {
	plan: sql<string | null>`${ledgerPostings.planId}`,
	price: sql<string | null>`${priceVersions.priceId}`,
	code: sql<string | null>`${orders.codeId}`,
	item: sql<string | null>`${plans.soleItemId}`
};

/** Sums of the ledger in a span, by account and by what they are for. */
export async function bookedBy(db: Handle, by: Earner, within: Within): Promise<Booked[]> {
	const key = KEY[by];
	const all = db
		.select({
			...{ key, account: ledgerPostings.account, currency: ledgerPostings.currency },
			amountMinor: sql<string>`sum(${ledgerPostings.amountMinor})`.mapWith(Number)
		})
		.from(ledgerEntries)
		.innerJoin(ledgerPostings, eq(ledgerPostings.entryId, ledgerEntries.id))
		.$dynamic();
	const byPrice = () =>
		all
			.innerJoin(orderLines, eq(orderLines.id, ledgerPostings.lineId))
			.innerJoin(priceVersions, eq(priceVersions.id, orderLines.priceVersionId));
	const byCode = () =>
		all
			.innerJoin(payments, eq(payments.id, ledgerEntries.paymentId))
			.innerJoin(orders, eq(orders.id, payments.orderId));
	const byItem = () => all.innerJoin(plans, eq(plans.id, ledgerPostings.planId));
	const found = { plan: () => all, price: byPrice, code: byCode, item: byItem };
	const rows = await found[by]()
		.where(and(booked(within), isNotNull(key)))
		.groupBy(key, ledgerPostings.account, ledgerPostings.currency);
	return rows.flatMap(({ key: of, ...row }) => (of === null ? [] : [{ key: of, ...row }]));
}

/** What earners are called, by id: of a price with its plan. */
export async function earnerNames(db: Handle, by: Earner): Promise<Map<string, string>> {
	switch (by) {
		case 'plan': {
			const rows = await db.select({ id: plans.id, name: plans.name }).from(plans);
			return new Map(rows.map(({ id, name }) => [id, name]));
		}
		case 'price': {
			const rows = await db
				.select({ id: prices.id, name: prices.name, plan: plans.name })
				.from(prices)
				.innerJoin(plans, eq(plans.id, prices.planId));
			return new Map(rows.map(({ id, name, plan }) => [id, name === '' ? plan : `${plan}, ${name}`]));
		}
		case 'item': {
			const rows = await db
				.select({ id: itemTexts.itemId, title: itemTexts.plain })
				.from(plans)
				.innerJoin(itemTexts, and(eq(itemTexts.itemId, plans.soleItemId), eq(itemTexts.field, 'title')));
			return new Map(rows.map(({ id, title }) => [id, title]));
		}
		case 'code': {
			const rows = await db
				.selectDistinct({ id: codes.id, code: codes.code })
				.from(codes)
				.innerJoin(orders, eq(orders.codeId, codes.id))
				.where(isNotNull(orders.codeId));
			return new Map(rows.map(({ id, code }) => [id, code]));
		}
	}
}

/** Each payment, refund and dispute of a span that is for one of them, with its order. */
export async function bookedRows(
	db: Handle,
	{ by, key, currency, ...within }: Within & { by: Earner; key: string; currency: string },
	{ limit, skip }: { limit: number; skip: number }
) {
	const own = db.select({ id: plans.id }).from(plans).where(eq(plans.soleItemId, key));
	const isOf = by === 'item' ? eq(ledgerPostings.planId, own) : eq(KEY[by], key);
	const which = and(booked(within), isOf, eq(ledgerPostings.currency, currency));
	// What came in and went, without tax: as it is summed up.
	const net = sql<string>`sum(case when ${ledgerPostings.account} = 'tax' then 0 else -${ledgerPostings.amountMinor} end)`;
	const rows = await db
		.select({
			...{ entryId: ledgerEntries.id, kind: ledgerEntries.kind, at: ledgerEntries.at },
			...{ orderId: payments.orderId, number: orders.number, memberId: payments.memberId },
			...{ netMinor: net.mapWith(Number), total: sql<number>`count(*) over ()`.mapWith(Number) }
		})
		.from(ledgerEntries)
		.innerJoin(ledgerPostings, eq(ledgerPostings.entryId, ledgerEntries.id))
		// Each entry has both: joined like that, no plan begins with all of either.
		.leftJoin(payments, eq(payments.id, ledgerEntries.paymentId))
		.leftJoin(orders, eq(orders.id, payments.orderId))
		.leftJoin(orderLines, eq(orderLines.id, ledgerPostings.lineId))
		.leftJoin(priceVersions, eq(priceVersions.id, orderLines.priceVersionId))
		.where(which)
		.groupBy(
			...[ledgerEntries.id, ledgerEntries.kind, ledgerEntries.at],
			...[payments.orderId, orders.number, payments.memberId]
		)
		.orderBy(asc(ledgerEntries.at), asc(ledgerEntries.id))
		.limit(limit)
		.offset(skip);
	return { rows, total: rows[0]?.total ?? 0 };
}

/** Currencies that something was ever sold in, in the order of their codes. */
export async function soldCurrencies(db: Handle): Promise<string[]> {
	const currency = sql<string>`json_value(${priceVersions.terms}, '$.currency')`;
	const rows = await db.selectDistinct({ currency }).from(priceVersions).orderBy(currency);
	return rows.map((row) => row.currency);
}

/** First stretches of another length that began in a span, and whether something was paid after. */
export async function firstStretches(db: Handle, { from, before }: Within) {
	const paid = sql<number>`exists(select 1 from payments came where came.agreement_id = agreements.id and came.state = 'captured' and came.period >= 1)`;
	return db
		.select({
			...{ at: agreements.anchor, state: agreements.state },
			currency: sql<string>`json_value(${agreements.agreed}, '$.terms.currency')`,
			minor: sql<string>`json_value(${agreements.agreed}, '$.terms.then.amountMinor')`.mapWith(Number),
			isPaid: paid.mapWith(Boolean)
		})
		.from(agreements)
		.where(
			and(
				gte(agreements.anchor, from),
				lt(agreements.anchor, before),
				isNotNull(sql`json_value(${agreements.agreed}, '$.terms.then.firstLasts.count')`)
			)
		)
		.orderBy(asc(agreements.anchor));
}

/** What was due by an agreement and declined first in a span, and whether it came in after. */
export async function declinedDues(
	db: Handle,
	{ from, before }: Within
): Promise<
	{
		period: number;
		at: number;
		currency: string;
		minor: number;
		isPaid: boolean;
		state: AgreementState['kind'];
		now: number;
	}[]
> {
	const at = sql<string>`min(unix_timestamp(${payments.createdAt}))`;
	const paid = sql<number>`exists(select 1 from payments came where came.agreement_id = ${payments.agreementId} and came.period = ${payments.period} and came.state = 'captured')`;
	const rows = await db
		.select({
			...{ period: payments.period, currency: payments.currency },
			at: at.mapWith((seconds) => Math.round(Number(seconds) * 1000)),
			minor: sql<string>`max(${payments.amountMinor})`.mapWith(Number),
			isPaid: paid.mapWith(Boolean),
			...{ state: agreements.state, now: agreements.period }
		})
		.from(payments)
		.innerJoin(agreements, eq(agreements.id, payments.agreementId))
		.where(eq(payments.state, 'declined'))
		.groupBy(
			...[payments.agreementId, payments.period, payments.currency, agreements.state, agreements.period]
		)
		.having(and(gte(at, String(from / 1000)), lt(at, String(before / 1000))))
		.orderBy(at);
	return rows;
}
