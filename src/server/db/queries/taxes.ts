/** What was sold with tax, by country and rate: as the documents say it, which is what was handed out. */
import { and, asc, eq, gte, isNotNull, lt, sql } from 'drizzle-orm';
import type { TaxSum } from '$core/billing/tax';
import type { Handle } from '../connect';
import { documents, orders, payments } from '../schema/sales';
import { total } from './lists';

/** A credit note takes off. */
const SIGN = sql`(case when ${documents.kind} = 'credit-note' then -1 else 1 end)`;

const taxedIn = (from: number, before: number) =>
	and(isNotNull(documents.taxKind), gte(documents.issuedAt, from), lt(documents.issuedAt, before));

/** Sums of a span of time `[from, before)`, by country, rate and currency. */
export async function taxSums(
	db: Handle,
	from: number,
	before: number
): Promise<(TaxSum & { documents: number })[]> {
	const { taxKind, taxCountry, taxName, taxRate, currency, taxMinor, amountMinor } = documents;
	const rows = await db
		.select({
			...{ kind: taxKind, country: taxCountry, rate: taxRate, currency, documents: total },
			name: sql<string>`max(${taxName})`,
			netMinor: sql<string>`sum(${SIGN} * (${amountMinor} - ${taxMinor}))`.mapWith(Number),
			taxMinor: sql<string>`sum(${SIGN} * ${taxMinor})`.mapWith(Number)
		})
		.from(documents)
		.where(taxedIn(from, before))
		.groupBy(taxCountry, taxRate, taxKind, currency)
		.orderBy(asc(taxCountry), asc(taxRate), asc(taxKind), asc(currency));
	return rows.map(({ kind, country, rate, ...row }) => ({
		...row,
		...{ kind: kind ?? 'taxed', country: country ?? '', rate: rate ?? 0 }
	}));
}

/** Each document of a span of time, with where its buyer was and how that was known. */
export async function taxedDocuments(db: Handle, from: number, before: number) {
	return db
		.select({ document: documents, order: orders.number, tax: orders.tax })
		.from(documents)
		.innerJoin(payments, eq(payments.id, documents.paymentId))
		.innerJoin(orders, eq(orders.id, payments.orderId))
		.where(taxedIn(from, before))
		.orderBy(asc(documents.issuedAt), asc(documents.number));
}
