/** Money that moved stands in the books: a ledger entry with its postings, and a document, each once for a payment and kind. */
import { and, eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { allocate } from '$core/billing/allocation';
import { postings, reversed, type LedgerKind, type LedgerLine, type Posting } from '$core/billing/ledger';
import { writeLocal } from '$core/time/calendar';
import type { Tx } from '../../db/connect';
import { accountById } from '../../db/queries/members';
import { linesOfOrder, nextNumber, type Payment } from '../../db/queries/sales';
import type { SiteSettings } from '../../db/schema/running';
import { ledgerEntries, ledgerPostings, receipts, type ReceiptContent } from '../../db/schema/sales';
import type { Work } from '../../transact';

/** Inside a transaction that has locked the order. */
export async function enterMoney(
	{ tx, now }: Work,
	site: SiteSettings,
	payment: Payment,
	kind: LedgerKind
): Promise<void> {
	const lines = await linesPaid(tx, payment);
	const posted =
		kind === 'won'
			? reversed(await disputePostings(tx, payment.id))
			: postings(kind, payment.currency, lines);
	const entryId = uuidv7();
	await tx.insert(ledgerEntries).values({ id: entryId, at: now, kind, paymentId: payment.id });
	await tx.insert(ledgerPostings).values(posted.map((posting) => ({ entryId, ...posting })));
	if (payment.memberId === null) throw new Error(`Payment ${payment.id} came from nobody`);
	const account = await accountById(tx, payment.memberId);
	await tx.insert(receipts).values({
		number: await receiptNumber(tx, now, site.zone),
		kind,
		paymentId: payment.id,
		memberId: payment.memberId,
		amountMinor: payment.amountMinor,
		currency: payment.currency,
		content: {
			seller: { name: site.siteName, statementName: site.statementName },
			buyer: { name: account?.name ?? '', email: account?.email ?? '' },
			lines: lines.map(({ text, kind: of, amountMinor }) => ({ text, kind: of, amountMinor }))
		},
		issuedAt: now
	});
}

/** Numbered within the publisher's year. */
async function receiptNumber(tx: Tx, now: number, zone: string): Promise<string> {
	const year = writeLocal(now, zone).slice(0, 4);
	const number = await nextNumber(tx, `receipt-${year}`);
	return `R-${year}-${String(number).padStart(5, '0')}`;
}

type PaidLine = LedgerLine & ReceiptContent['lines'][number];

/** What a payment is for: the order's lines, or the plan again. */
async function linesPaid(tx: Tx, { orderId, agreementId, amountMinor }: Payment): Promise<PaidLine[]> {
	const lines = await linesOfOrder(tx, orderId);
	const paid = agreementId === null ? lines : lines.filter(({ kind }) => kind === 'plan').slice(0, 1);
	return allocate(amountMinor, paid).map(({ id, text, kind, planId, taxMinor, paidMinor }) => ({
		...{ text, kind, planId, lineId: id, amountMinor: paidMinor },
		taxMinor: agreementId === null ? taxMinor : 0
	}));
}

async function disputePostings(tx: Tx, paymentId: string): Promise<Posting[]> {
	const { account, amountMinor, currency, planId, lineId } = ledgerPostings;
	return tx
		.select({ account, amountMinor, currency, planId, lineId })
		.from(ledgerPostings)
		.innerJoin(ledgerEntries, eq(ledgerEntries.id, ledgerPostings.entryId))
		.where(and(eq(ledgerEntries.paymentId, paymentId), eq(ledgerEntries.kind, 'dispute')));
}
