/** Money that moved stands in the books: a ledger entry with its postings, and a document, each once for what moved. */
import { and, eq, inArray } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { allocate, partsOf } from '$core/billing/allocation';
import { postings, refundLines, reversed, type LedgerLine, type Posting } from '$core/billing/ledger';
import { termsOfMove } from '$core/billing/move';
import { orderTotal, type LineKind } from '$core/billing/order';
import { paidThrough, periodStart, phaseOf } from '$core/billing/phases';
import {
	discountNet,
	isSameTax,
	taxedAsAgreed,
	taxIn,
	termsTax,
	UNTAXED,
	type Taxed,
	type TaxedBuyer
} from '$core/billing/tax';
import { priceDue, startOf } from '$core/billing/terms';
import { localDay } from '$core/time/calendar';
import type { Tx } from '../../db/connect';
import { accountById } from '../../db/queries/members';
import { agreementById, courseNow } from '../../db/queries/agreements';
import {
	linesOfOrder,
	orderById,
	paymentsOfOrder,
	planById,
	priceVersionById,
	statementNameOf,
	type OrderLine,
	type Payment
} from '../../db/queries/sales';
import type { SiteSettings } from '../../db/schema/running';
import {
	documents,
	ledgerEntries,
	ledgerPostings,
	type DocumentContent,
	type DocumentKind
} from '../../db/schema/sales';
import type { Work } from '../../transact';
import { documentNumber } from './numbers';

/** What moved of a payment; `id` of the refund or the dispute. */
export type Moved =
	| { kind: 'payment' }
	/** `lineId`: of this line alone; `null`: of all of them. */
	| { kind: 'refund'; id: string; amountMinor: number; lineId: string | null }
	| { kind: 'dispute'; id: string; amountMinor: number }
	| { kind: 'won'; id: string };

/** What buyers are handed for it: an invoice where there is tax in it. What a bank takes and gives back is between it and the publisher. */
function documentOf(kind: Moved['kind'], taxed: Taxed): DocumentKind | null {
	if (kind === 'payment') return taxed.kind === 'none' ? 'receipt' : 'invoice';
	return kind === 'refund' ? 'credit-note' : null;
}

/** Inside a transaction that has locked the order. */
export async function enterMoney(
	work: Work,
	site: SiteSettings,
	payment: Payment,
	moved: Moved
): Promise<void> {
	const { tx, now } = work;
	const { kind } = moved;
	const source = `${kind}:${moved.kind === 'payment' ? payment.id : moved.id}`;
	const tax = await taxOf(work, site, payment);
	const lines = await linesMoved(tx, payment, moved, tax);
	const posted =
		kind === 'won'
			? reversed(await postingsOf(tx, `dispute:${moved.id}`))
			: postings(kind, payment.currency, lines, payment.processor === 'card' ? 'processor' : 'cash');
	const entryId = uuidv7();
	await tx.insert(ledgerEntries).values({ id: entryId, at: now, kind, source, paymentId: payment.id });
	await tx.insert(ledgerPostings).values(posted.map((posting) => ({ entryId, ...posting })));
	const document = documentOf(kind, tax.taxed);
	if (document) await issue(work, site, payment, { kind: document, source, lines, tax });
}

/** How a payment is taxed, and whom it was asked of. */
interface PaidTax {
	taxed: Taxed;
	buyer: TaxedBuyer;
}

const NOBODY: TaxedBuyer = { country: null, taxId: null };

/** As its order says, or as the agreement by which it was asked for does, on the day on which it was. What goes back of it: as it was then. */
async function taxOf({ tx }: Work, { tax: rules, zone }: SiteSettings, payment: Payment): Promise<PaidTax> {
	const own = await documentOfPayment(tx, payment.id);
	if (own) {
		const { taxKind: kind, taxCountry: country, taxName: name, taxRate: rate, content } = own;
		const { country: at = null, taxId = null } = content.buyer;
		const buyer = { country: at, taxId };
		if (kind === null || country === null) return { taxed: UNTAXED, buyer };
		const isIncluded = content.isTaxIncluded ?? true;
		return { taxed: { kind, country, name: name ?? '', rate: rate ?? 0, isIncluded }, buyer };
	}
	const row = isOfAgreement(payment) ? await agreementById(tx, payment.agreementId) : null;
	if (!row) {
		const order = await orderById(tx, payment.orderId);
		return { taxed: order?.tax?.taxed ?? UNTAXED, buyer: order?.tax?.buyer ?? NOBODY };
	}
	const buyer = row.tax?.buyer ?? NOBODY;
	const { phases } = await courseNow(tx, row);
	const asked = phaseOf(phases, payment.period).terms.tax ?? null;
	const now = taxedAsAgreed(rules, row.tax, localDay(payment.createdAt, zone));
	if (isSameTax(termsTax(now), asked)) return { taxed: now, buyer };
	// The rules were changed since it was asked for: it was asked for with this tax.
	const country = now.kind === 'none' ? (buyer.country ?? rules.home) : now.country;
	if (asked === null || country === null)
		return { taxed: now.kind === 'taxed' ? { ...now, isIncluded: true } : UNTAXED, buyer };
	const name = now.kind === 'none' ? '' : now.name;
	const isReversed = asked.way === 'taken-out';
	const kind = isReversed ? ('reversed' as const) : ('taxed' as const);
	return { taxed: { kind, country, name, rate: asked.rate, isIncluded: isReversed }, buyer };
}

async function issue(
	work: Work,
	site: SiteSettings,
	payment: Payment,
	of: { kind: DocumentKind; source: string; lines: readonly MovedLine[]; tax: PaidTax }
): Promise<void> {
	const { kind, source, lines, tax } = of;
	const { tx, now } = work;
	if (payment.memberId === null) throw new Error(`Payment ${payment.id} came from nobody`);
	const account = await accountById(tx, payment.memberId);
	const periods =
		kind === 'credit-note' ? new Map<string, Period>() : await periodsPaid(work, site.zone, payment);
	const { taxed, buyer } = tax;
	const isOnTop = taxed.kind === 'taxed' && !taxed.isIncluded;
	const known = buyer.country === null ? {} : buyer;
	await tx.insert(documents).values({
		number: await documentNumber(work, kind, site.zone),
		kind,
		source,
		paymentId: payment.id,
		memberId: payment.memberId,
		corrects: kind === 'credit-note' ? ((await documentOfPayment(tx, payment.id))?.number ?? null) : null,
		amountMinor: sumOf(lines, ({ amountMinor }) => amountMinor),
		...taxColumns(
			taxed,
			sumOf(lines, ({ taxMinor }) => taxMinor)
		),
		currency: payment.currency,
		content: {
			seller: {
				name: site.seller.name || site.siteName,
				statementName: (await statementNameOf(tx, lines[0]?.planId)) ?? site.statementName,
				address: site.seller.address,
				taxNumber: site.seller.taxNumber
			},
			buyer: { name: account?.name ?? '', email: account?.email ?? '', ...known },
			...(taxed.kind === 'none' ? {} : { isTaxIncluded: taxed.isIncluded }),
			...(work.isPractice ? { isPractice: true } : {}),
			lines: lines.map(({ lineId, text, kind: of, amountMinor, taxMinor, offMinor }) => ({
				// Where tax comes on top, it stands below all lines.
				...{ text, kind: of, amountMinor: isOnTop ? amountMinor - taxMinor : amountMinor },
				...(offMinor > 0 ? { discountMinor: offMinor } : {}),
				...periodOf(periods, lineId, of)
			}))
		},
		issuedAt: now
	});
}

function sumOf<T>(all: readonly T[], of: (one: T) => number): number {
	return all.reduce((sum, one) => sum + of(one), 0);
}

function taxColumns(taxed: Taxed, taxMinor: number) {
	if (taxed.kind === 'none') return {};
	const { kind: taxKind, country: taxCountry, name: taxName, rate: taxRate } = taxed;
	return { taxKind, taxCountry, taxName, taxRate, taxMinor };
}

/** The invoice or the receipt. */
async function documentOfPayment(tx: Tx, paymentId: string) {
	const [row] = await tx
		.select()
		.from(documents)
		.where(eq(documents.source, `payment:${paymentId}`));
	return row ?? null;
}

type MovedLine = LedgerLine &
	Omit<DocumentContent['lines'][number], 'discountMinor'> & {
		/** What was taken off, as the price is written: with the tax that is in it. */
		offMinor: number;
	};

/** What moved of each line: a refund takes of what is left of them. */
async function linesMoved(tx: Tx, payment: Payment, moved: Moved, { taxed }: PaidTax): Promise<MovedLine[]> {
	const paid = await linesPaid(tx, payment, taxed);
	switch (moved.kind) {
		case 'payment':
		case 'won':
			return paid;
		case 'refund':
			return refundLines(moved.amountMinor, await leftOf(tx, payment, refundedOf(paid, moved.lineId))).map(
				(line) => ({ ...line, offMinor: 0 })
			);
		case 'dispute':
			return allocate(
				moved.amountMinor,
				paid.map((line) => ({ ...line, totalMinor: line.amountMinor }))
			).map(({ paidMinor, ...line }) => ({
				...line,
				...{ amountMinor: paidMinor, taxMinor: 0, discountMinor: 0, offMinor: 0 }
			}));
	}
}

function refundedOf(paid: MovedLine[], lineId: string | null): MovedLine[] {
	const own = paid.filter((line) => line.lineId === lineId);
	return own.length > 0 ? own : paid;
}

/** What a payment is for: the order's lines, or what is held by now again. */
async function linesPaid(tx: Tx, payment: Payment, taxed: Taxed): Promise<MovedLine[]> {
	const { orderId, amountMinor } = payment;
	const lines = await linesOfOrder(tx, orderId);
	const isOfOrder = !isOfAgreement(payment);
	const main = lines.filter(({ kind }) => kind !== 'fee');
	const own = main.find((line) => line.agreementId === payment.agreementId) ?? main[0];
	const paid = isOfOrder ? lines : own ? [own] : [];
	const present = isOfOrder ? null : await presentAgreement(tx, payment);
	if (isOfOrder && amountMinor < orderTotal(lines)) return partPaid(tx, payment, lines, taxed);
	return allocate(amountMinor, paid).map((line) => {
		const { id, text, kind, planId, paidMinor } = line;
		const isOther = present !== null && (present.plan?.id !== planId || kind === 'move');
		const what =
			isOther && present.plan
				? { text: present.plan.name, kind: 'plan' as const, planId: present.plan.id }
				: { text, kind, planId };
		const taxMinor = present ? taxIn(paidMinor, taxed) : line.taxMinor;
		const price = present?.price ?? line;
		// What a move takes off was sold before.
		const isLess = present !== null || kind !== 'move';
		const discountMinor = isLess ? discountNet(price, taxed) : 0;
		const isNet = taxed.kind === 'reversed' && taxed.isIncluded;
		const offMinor = isLess ? (isNet ? discountMinor : price.discountMinor) : 0;
		return { ...what, lineId: id, amountMinor: paidMinor, taxMinor, discountMinor, offMinor };
	});
}

/** What came in of an order in parts pays its lines one after the other. */
async function partPaid(
	tx: Tx,
	{ id, orderId, amountMinor, createdAt }: Payment,
	lines: readonly OrderLine[],
	taxed: Taxed
): Promise<MovedLine[]> {
	const before = (await paymentsOfOrder(tx, orderId)).filter(
		(one) =>
			one.id !== id && one.state === 'captured' && one.agreementId === null && one.createdAt < createdAt
	);
	const beforeMinor = sumOf(before, (one) => one.amountMinor);
	return partsOf(lines, beforeMinor, amountMinor).map(({ line, paidMinor, portion }) => {
		const { id: lineId, text, kind, planId } = line;
		const price = { amountMinor: portion(line.amountMinor), discountMinor: portion(line.discountMinor) };
		const discountMinor = discountNet(price, taxed);
		const isNet = taxed.kind === 'reversed' && taxed.isIncluded;
		const offMinor = isNet ? discountMinor : price.discountMinor;
		const taxMinor = portion(line.taxMinor);
		return { text, kind, planId, lineId, amountMinor: paidMinor, taxMinor, discountMinor, offMinor };
	});
}

/** What an order paid is the first of all, or try 0: every other payment is asked for by an agreement. */
function isOfAgreement(payment: Payment): payment is Payment & { agreementId: string } {
	const { agreementId, period, attempt } = payment;
	return agreementId !== null && period !== 0 && attempt !== 0;
}

/** The plan that an agreement is of by now, which may have been moved since it was bought, and what it takes off a payment. */
async function presentAgreement(tx: Tx, { agreementId, period }: Payment) {
	const row = agreementId === null ? null : await agreementById(tx, agreementId);
	if (!row) return null;
	const { phases } = await courseNow(tx, row);
	const phase = phaseOf(phases, period);
	const price = priceDue(phase.terms, period - phase.from) ?? { amountMinor: 0, discountMinor: 0 };
	return { plan: await planById(tx, row.planId), price };
}

/** What a payment pays for of each line, `[from, through)`; what is not there: no time, or for good. */
async function periodsPaid(
	{ tx, now }: Work,
	zone: string,
	{ agreementId, orderId, period }: Payment
): Promise<Map<string, Period>> {
	const periods = new Map<string, Period>();
	const row = agreementId === null ? null : await agreementById(tx, agreementId);
	const phases = row && (await courseNow(tx, row)).phases;
	for (const { id, kind, priceVersionId } of await linesOfOrder(tx, orderId)) {
		if (kind === 'fee') continue;
		const known =
			phases && row && between(periodStart(phases, row.zone, period), paidThrough(phases, row.zone, period));
		// What begins with it is made by it.
		const { terms } = await priceVersionById(tx, priceVersionId);
		const begun = between(now, startOf(kind === 'move' ? termsOfMove(terms) : terms, now, zone, 1));
		const own = row ? known : begun;
		if (own) periods.set(id, own);
	}
	return periods;
}

function periodOf(periods: ReadonlyMap<string, Period>, lineId: string | null, kind: LineKind | undefined) {
	const period = lineId === null || kind === 'fee' ? undefined : periods.get(lineId);
	return period ? { period } : {};
}

type Period = NonNullable<DocumentContent['lines'][number]['period']>;

function between(from: number | null, through: number | null): Period | null {
	return from === null || through === null ? null : { from, through };
}

/** What came in for each line and was not refunded. */
async function leftOf(tx: Tx, payment: Payment, paid: readonly MovedLine[]): Promise<MovedLine[]> {
	const { lineId, account, amountMinor } = ledgerPostings;
	const rows = await tx
		.select({ lineId, account, amountMinor })
		.from(ledgerPostings)
		.innerJoin(ledgerEntries, eq(ledgerEntries.id, ledgerPostings.entryId))
		.where(and(eq(ledgerEntries.paymentId, payment.id), inArray(ledgerEntries.kind, ['payment', 'refund'])));
	return paid.map((line) => {
		const own = rows.filter((row) => row.lineId === line.lineId);
		const sum = (all: typeof rows) => all.reduce((total, row) => total - row.amountMinor, 0);
		return { ...line, amountMinor: sum(own), taxMinor: sum(own.filter((row) => row.account === 'tax')) };
	});
}

async function postingsOf(tx: Tx, source: string): Promise<Posting[]> {
	const { account, amountMinor, currency, planId, lineId } = ledgerPostings;
	return tx
		.select({ account, amountMinor, currency, planId, lineId })
		.from(ledgerPostings)
		.innerJoin(ledgerEntries, eq(ledgerEntries.id, ledgerPostings.entryId))
		.where(eq(ledgerEntries.source, source));
}
