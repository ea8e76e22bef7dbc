/** What stands in the practice book beside what every book has: its cards, what was paid with them, and its mails. */
import { desc, eq, gt, sql } from 'drizzle-orm';
import type { Handle, Tx } from '../connect';
import { practiceCards, practiceMails, practicePayments } from '../schema/practice';
import { accounts } from '../schema/people';
import { orders } from '../schema/sales';
import { nextNumber } from './sales';

export type PracticePayment = typeof practicePayments.$inferSelect;

/** What of a payment is neither refunded nor with the buyer's bank, in minor units. */
export function leftOf({ state, amountMinor, refunds, disputes }: PracticePayment): number {
	if (state !== 'captured' || disputes.some((one) => one.state !== 'won')) return 0;
	return amountMinor - refunds.reduce((sum, one) => sum + one.amountMinor, 0);
}

export async function practicePayment(db: Handle, ref: string): Promise<PracticePayment | null> {
	const [row] = await db.select().from(practicePayments).where(eq(practicePayments.ref, ref));
	return row ?? null;
}

export async function practicePaymentByKey(db: Handle, key: string): Promise<PracticePayment | null> {
	const [row] = await db.select().from(practicePayments).where(eq(practicePayments.idempotencyKey, key));
	return row ?? null;
}

export async function practiceCard(db: Handle, ref: string) {
	const [row] = await db.select().from(practiceCards).where(eq(practiceCards.ref, ref));
	return row ?? null;
}

/** Writes one, or leaves the one that has the key. The number that its change gets stays locked until the transaction ends. */
export async function addPracticePayment(
	tx: Tx,
	row: Omit<PracticePayment, 'changedAs'>
): Promise<PracticePayment> {
	const changedAs = await nextNumber(tx, CHANGES);
	const known = await practicePaymentByKey(tx, row.idempotencyKey);
	if (known) return known;
	await tx.insert(practicePayments).values({ ...row, changedAs });
	return { ...row, changedAs };
}

/** Changes one behind its lock; `null`: there is none, or it stays as it is. */
export async function changePracticePayment(
	tx: Tx,
	ref: string,
	change: (now: PracticePayment) => Partial<PracticePayment> | null
): Promise<PracticePayment | null> {
	const changedAs = await nextNumber(tx, CHANGES);
	const now = await practicePayment(tx, ref);
	const next = now && change(now);
	if (!now || !next) return null;
	await tx
		.update(practicePayments)
		.set({ ...next, changedAs })
		.where(eq(practicePayments.ref, ref));
	return { ...now, ...next, changedAs };
}

/** All changes go one after the other: whoever asks what came since a number misses none that is written later. */
const CHANGES = 'practice-changes';

/** The oldest change first. */
export async function practiceChangedAfter(db: Handle, after: number, limit: number) {
	return db
		.select()
		.from(practicePayments)
		.where(gt(practicePayments.changedAs, after))
		.orderBy(practicePayments.changedAs)
		.limit(limit);
}

/** What somebody sees who practises: the newest first. */
export async function lastPracticePayments(db: Handle, limit: number) {
	return db
		.select({ payment: practicePayments, card: practiceCards })
		.from(practicePayments)
		.leftJoin(practiceCards, eq(practiceCards.ref, practicePayments.cardRef))
		.orderBy(desc(practicePayments.createdAt), desc(practicePayments.ref))
		.limit(limit);
}

export async function lastPracticeMails(db: Handle, limit: number) {
	const { id, to, subject, at } = practiceMails;
	return db
		.select({ id, to, subject, at })
		.from(practiceMails)
		.orderBy(desc(practiceMails.at), desc(practiceMails.id))
		.limit(limit);
}

export async function practiceMail(db: Handle, id: string) {
	const [row] = await db.select().from(practiceMails).where(eq(practiceMails.id, id));
	return row ?? null;
}

/** How much stands in it. */
export async function practiceCounts(db: Handle) {
	const count = sql<number>`count(*)`.mapWith(Number);
	const [[buyers], [bought], [mails]] = await Promise.all([
		db.select({ count }).from(accounts).where(eq(accounts.role, 'member')),
		db.select({ count }).from(orders),
		db.select({ count }).from(practiceMails)
	]);
	return { buyers: buyers?.count ?? 0, orders: bought?.count ?? 0, mails: mails?.count ?? 0 };
}
