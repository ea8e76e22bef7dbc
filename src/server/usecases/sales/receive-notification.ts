import { eq } from 'drizzle-orm';
import type { Using } from '../../app';
import { paymentByRef } from '../../db/queries/sales';
import { notifications } from '../../db/schema/sales';
import type { ProcessorName } from '$core/billing/pay-by';
import type { IncomingNotification } from '../../ports/payments';
import { transact, type Transacting } from '../../transact';
import { cardChangeByRef, settleCard } from './change-card';
import { settlePayment } from './settle-payment';
import type { Selling } from './selling';

export type Received =
	| { ok: true; outcome: 'stored' | 'seen-before' }
	| { ok: false; code: 'unsigned' | 'forged' | 'stale' | 'unreadable' };

const MAX_ID_LENGTH = 80;

/**
 * A notification is a hint: it says which payment to look at, and what counts is what the processor then says of it. So
 * order, repetition and delay do not matter. It is stored and answered before the processor is asked: one that is slow to
 * answer is not made to repeat itself.
 */
export async function receiveNotification(
	app: Transacting & Using<'processors'>,
	from: ProcessorName,
	incoming: IncomingNotification
): Promise<Received> {
	const read = app.processors[from].readNotification(incoming, app.clock.wall());
	if (!read.ok) return read;
	const { eventId, paymentRef } = read;
	if (eventId.length > MAX_ID_LENGTH || paymentRef.length > MAX_ID_LENGTH)
		return { ok: false, code: 'unreadable' };
	return transact(app, null, async ({ tx, queue }) => {
		const [stored] = await tx
			.insert(notifications)
			.ignore()
			.values({ eventId, paymentRef, receivedAt: app.clock.wall() });
		if (stored.affectedRows === 0) return { ok: true, outcome: 'seen-before' };
		await queue('notified', { eventId });
		return { ok: true, outcome: 'stored' };
	});
}

/** The job: looks at the payment, or the page for a card, that a stored notification names. */
export async function settleNotified(app: Selling, eventId: string): Promise<void> {
	const [told] = await app.db.select().from(notifications).where(eq(notifications.eventId, eventId));
	const payment = told ? await paymentByRef(app.db, told.paymentRef) : null;
	if (payment) return void (await settlePayment(app, payment));
	const change = told ? await cardChangeByRef(app, told.paymentRef) : null;
	if (change) await settleCard(app, change);
}
