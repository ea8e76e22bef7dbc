/**
 * Money that comes by transfer or in cash: the processor is the publisher, and its book lies in Stile's own database. What is
 * due waits there until somebody says that it came in, or did not (usecases/sales/answer-payment.ts).
 */
import { and, eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { Using } from '../../app';
import { offlinePayment, offlineRefundsOf, writeOfflineRefund } from '../../db/queries/offline';
import { offlinePayments as book } from '../../db/schema/sales';
import { RefundRefused, type PaymentFact, type Processor } from '../../ports/payments';

export function offlineProcessor({ db, clock }: Using<'db' | 'clock'>): Processor {
	/** The one that a key has made, or makes now. */
	async function once(key: string, amount: PaymentFact['amount']): Promise<string> {
		await db
			.insert(book)
			.ignore()
			.values({
				...{ ref: `offline-${uuidv7()}`, idempotencyKey: key, state: 'pending' as const },
				...{ amountMinor: amount.minor, currency: amount.currency }
			});
		const [made] = await db.select({ ref: book.ref }).from(book).where(eq(book.idempotencyKey, key));
		if (!made) throw new Error(`The offline payment ${key} was not written`);
		return made.ref;
	}
	/** Refunds that have to be sent still are none yet. */
	async function fetch(ref: string): Promise<PaymentFact | null> {
		const row = await offlinePayment(db, ref);
		if (!row) return null;
		const { state, amountMinor: minor, currency, settledAt } = row;
		const refunds = (await offlineRefundsOf(db, ref))
			.filter(({ doneAt }) => doneAt !== null)
			.map(({ own, amountMinor, doneAt: at }) => ({ ref: `offline-refund-${own}`, own, amountMinor, at }));
		return { ref, state, amount: { minor, currency }, card: null, settledAt, refunds, disputes: [] };
	}
	async function known(ref: string): Promise<PaymentFact> {
		const fact = await fetch(ref);
		if (!fact) throw new Error(`There is no offline payment ${ref}`);
		return fact;
	}

	return {
		payOrigins: [],
		vault: null,
		/** The page that it leads back to says how to pay. */
		async openSession({ key, amount, returnUrl }) {
			return { ref: await once(key, amount), payUrl: returnUrl };
		},
		async endSession(ref) {
			await db
				.update(book)
				.set({ state: 'expired', settledAt: clock.wall() })
				.where(and(eq(book.ref, ref), eq(book.state, 'pending')));
		},
		charge: async ({ key, amount }) => known(await once(key, amount)),
		async findCharge(key) {
			const [made] = await db.select({ ref: book.ref }).from(book).where(eq(book.idempotencyKey, key));
			return made ? known(made.ref) : null;
		},
		async refund({ own, ref, amountMinor }) {
			const wish = { own, ref, amountMinor, doneAt: null };
			const isThere = await db.transaction((tx) => writeOfflineRefund(tx, wish));
			if (!isThere) throw new RefundRefused('So much is not there');
			return known(ref);
		},
		fetch,
		/** Whoever writes into its book settles what it is of at once. */
		changedSince: async () => ({ facts: [], cards: [], cursor: null }),
		readNotification: () => ({ ok: false, code: 'unsigned' })
	};
}
