/** Money that moved stands in the books: a ledger entry with its postings, and a document, each once for what moved. */
import { and, eq, inArray } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { allocate } from '$core/billing/allocation';
import { postings, refundLines, reversed, type LedgerLine, type Posting } from '$core/billing/ledger';
import { termsOfMove } from '$core/billing/move';
import { paidThrough, periodStart, phaseOf } from '$core/billing/phases';
import { priceDue, startOf } from '$core/billing/terms';
import { writeLocal } from '$core/time/calendar';
import type { Tx } from '../../db/connect';
import { accountById } from '../../db/queries/members';
import { agreementById, courseNow } from '../../db/queries/agreements';
import { linesOfOrder, nextNumber, planById, priceVersionById, type Payment } from '../../db/queries/sales';
import type { SiteSettings } from '../../db/schema/running';
import {
	documents,
	ledgerEntries,
	ledgerPostings,
	type DocumentContent,
	type DocumentKind
} from '../../db/schema/sales';
import type { Work } from '../../transact';

/** What moved of a payment; `id` of the refund or the dispute. */
export type Moved =
	| { kind: 'payment' }
	| { kind: 'refund'; id: string; amountMinor: number }
	| { kind: 'dispute'; id: string; amountMinor: number }
	| { kind: 'won'; id: string };

/** What buyers are handed for it. What a bank takes and gives back is between it and the publisher. */
const DOCUMENT: Partial<Record<Moved['kind'], DocumentKind>> = { payment: 'receipt', refund: 'credit-note' };

/** Each in a series of its own, numbered within the publisher's year. */
const SERIES: Record<DocumentKind, { name: string; letter: string }> = {
	receipt: { name: 'receipt', letter: 'R' },
	'credit-note': { name: 'credit-note', letter: 'C' }
};

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
	const lines = await linesMoved(tx, payment, moved);
	const posted =
		kind === 'won'
			? reversed(await postingsOf(tx, `dispute:${moved.id}`))
			: postings(kind, payment.currency, lines, payment.processor === 'card' ? 'processor' : 'cash');
	const entryId = uuidv7();
	await tx.insert(ledgerEntries).values({ id: entryId, at: now, kind, source, paymentId: payment.id });
	await tx.insert(ledgerPostings).values(posted.map((posting) => ({ entryId, ...posting })));
	const document = DOCUMENT[kind];
	if (document) await issue(work, site, payment, { kind: document, source, lines });
}

async function issue(
	work: Work,
	site: SiteSettings,
	payment: Payment,
	{ kind, source, lines }: { kind: DocumentKind; source: string; lines: readonly MovedLine[] }
): Promise<void> {
	const { tx, now } = work;
	if (payment.memberId === null) throw new Error(`Payment ${payment.id} came from nobody`);
	const account = await accountById(tx, payment.memberId);
	const period = kind === 'receipt' ? await periodPaid(work, site.zone, payment) : null;
	await tx.insert(documents).values({
		number: await documentNumber(tx, kind, now, site.zone),
		kind,
		source,
		paymentId: payment.id,
		memberId: payment.memberId,
		corrects: kind === 'credit-note' ? await receiptOf(tx, payment.id) : null,
		amountMinor: lines.reduce((sum, { amountMinor }) => sum + amountMinor, 0),
		currency: payment.currency,
		content: {
			seller: {
				name: site.seller.name || site.siteName,
				statementName: site.statementName,
				address: site.seller.address,
				taxNumber: site.seller.taxNumber
			},
			buyer: { name: account?.name ?? '', email: account?.email ?? '' },
			lines: lines.map(({ text, kind: of, amountMinor, discountMinor }) => ({
				...{ text, kind: of, amountMinor },
				...(discountMinor > 0 ? { discountMinor } : {}),
				...(period && of !== 'fee' ? { period } : {})
			}))
		},
		issuedAt: now
	});
}

async function documentNumber(tx: Tx, kind: DocumentKind, now: number, zone: string): Promise<string> {
	const { name, letter } = SERIES[kind];
	const year = writeLocal(now, zone).slice(0, 4);
	const number = await nextNumber(tx, `${name}-${year}`);
	return `${letter}-${year}-${String(number).padStart(5, '0')}`;
}

async function receiptOf(tx: Tx, paymentId: string): Promise<string | null> {
	const [row] = await tx
		.select({ number: documents.number })
		.from(documents)
		.where(eq(documents.source, `payment:${paymentId}`));
	return row?.number ?? null;
}

type MovedLine = LedgerLine & Omit<DocumentContent['lines'][number], 'discountMinor'>;

/** What moved of each line: a refund takes of what is left of them. */
async function linesMoved(tx: Tx, payment: Payment, moved: Moved): Promise<MovedLine[]> {
	const paid = await linesPaid(tx, payment);
	switch (moved.kind) {
		case 'payment':
		case 'won':
			return paid;
		case 'refund':
			return refundLines(moved.amountMinor, await leftOf(tx, payment, paid));
		case 'dispute':
			return allocate(
				moved.amountMinor,
				paid.map((line) => ({ ...line, totalMinor: line.amountMinor }))
			).map(({ paidMinor, ...line }) => ({ ...line, amountMinor: paidMinor, taxMinor: 0, discountMinor: 0 }));
	}
}

/** What a payment is for: the order's lines, or what is held by now again. */
async function linesPaid(tx: Tx, payment: Payment): Promise<MovedLine[]> {
	const { orderId, agreementId, amountMinor } = payment;
	const lines = await linesOfOrder(tx, orderId);
	const isOfOrder = agreementId === null || isByOrder(payment);
	const paid = isOfOrder ? lines : lines.filter(({ kind }) => kind !== 'fee').slice(0, 1);
	const present = isOfOrder ? null : await presentAgreement(tx, payment);
	return allocate(amountMinor, paid).map((line) => {
		const { id, text, kind, planId, paidMinor } = line;
		const isOther = present !== null && (present.plan?.id !== planId || kind === 'move');
		const what =
			isOther && present.plan
				? { text: present.plan.name, kind: 'plan' as const, planId: present.plan.id }
				: { text, kind, planId };
		// What a move takes off was sold before.
		const ordered = { taxMinor: line.taxMinor, discountMinor: kind === 'move' ? 0 : line.discountMinor };
		const off = present ? { taxMinor: 0, discountMinor: present.discountMinor } : ordered;
		return { ...what, lineId: id, amountMinor: paidMinor, ...off };
	});
}

/** What an order paid is the first of all, or try 0: every other payment is asked for by an agreement. */
function isByOrder({ period, attempt }: Payment): boolean {
	return period === 0 || attempt === 0;
}

/** The plan that an agreement is of by now, which may have been moved since it was bought, and what it takes off a payment. */
async function presentAgreement(tx: Tx, { agreementId, period }: Payment) {
	const row = agreementId === null ? null : await agreementById(tx, agreementId);
	if (!row) return null;
	const { phases } = await courseNow(tx, row);
	const phase = phaseOf(phases, period);
	const discountMinor = priceDue(phase.terms, period - phase.from)?.discountMinor ?? 0;
	return { plan: await planById(tx, row.planId), discountMinor };
}

/** What a payment pays for, `[from, through)`; `null`: no time, or for good. */
async function periodPaid(
	{ tx, now }: Work,
	zone: string,
	{ agreementId, orderId, period }: Payment
): Promise<Period | null> {
	const row = agreementId === null ? null : await agreementById(tx, agreementId);
	if (row) {
		const { phases } = await courseNow(tx, row);
		return between(periodStart(phases, row.zone, period), paidThrough(phases, row.zone, period));
	}
	// What begins with it is made by it.
	const [line] = await linesOfOrder(tx, orderId);
	if (!line) return null;
	const { terms } = await priceVersionById(tx, line.priceVersionId);
	return between(now, startOf(line.kind === 'move' ? termsOfMove(terms) : terms, now, zone, 1));
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
