/** The book of what is paid offline. */
import { and, eq, isNull } from 'drizzle-orm';
import type { Handle, Tx } from '../connect';
import { offlinePayments, offlineRefunds } from '../schema/sales';

export async function offlinePayment(db: Handle, ref: string) {
	const [row] = await db.select().from(offlinePayments).where(eq(offlinePayments.ref, ref));
	return row ?? null;
}

/** Those that have to be sent still, too. */
export async function offlineRefundsOf(db: Handle, ref: string) {
	return db.select().from(offlineRefunds).where(eq(offlineRefunds.ref, ref)).orderBy(offlineRefunds.own);
}

/** @returns whether it was waited for until now */
export async function answerOffline(
	tx: Tx,
	ref: string,
	state: 'captured' | 'declined',
	wall: number
): Promise<boolean> {
	const [written] = await tx
		.update(offlinePayments)
		.set({ state, settledAt: wall })
		.where(and(eq(offlinePayments.ref, ref), eq(offlinePayments.state, 'pending')));
	return written.affectedRows === 1;
}

/** The same `own` is written once. @returns `false` where so much is not there */
export async function writeOfflineRefund(
	tx: Tx,
	refund: { own: string; ref: string; amountMinor: number; doneAt: number | null }
): Promise<boolean> {
	const [payment] = await tx
		.select()
		.from(offlinePayments)
		.where(eq(offlinePayments.ref, refund.ref))
		.for('update');
	const back = await offlineRefundsOf(tx, refund.ref);
	if (back.some(({ own }) => own === refund.own)) return true;
	const sent = back.reduce((sum, { amountMinor }) => sum + amountMinor, 0);
	const left = payment?.state === 'captured' ? payment.amountMinor - sent : 0;
	if (refund.amountMinor > left) return false;
	await tx.insert(offlineRefunds).values(refund);
	return true;
}

/** Somebody has sent the money. @returns whether it had to be sent until now */
export async function sentOffline(tx: Tx, own: string, wall: number): Promise<boolean> {
	const [written] = await tx
		.update(offlineRefunds)
		.set({ doneAt: wall })
		.where(and(eq(offlineRefunds.own, own), isNull(offlineRefunds.doneAt)));
	return written.affectedRows === 1;
}
