import { eq } from 'drizzle-orm';
import type { App } from '../../app';
import { paymentByRef } from '../../db/queries/sales';
import { notifications } from '../../db/schema/sales';
import type { IncomingNotification } from '../../ports/payments';
import { settlePayment } from './settle-payment';

export type Received =
	| { ok: true; outcome: 'settled' | 'seen-before' | 'not-ours' }
	| { ok: false; code: 'unsigned' | 'forged' | 'stale' | 'unreadable' };

/**
 * A notification is a hint: it says which payment to look at, and what counts is what the processor then says of it. So
 * order, repetition and delay do not matter.
 */
export async function receiveNotification(app: App, incoming: IncomingNotification): Promise<Received> {
	const read = app.payments.readNotification(incoming, app.clock.wall());
	if (!read.ok) return read;
	const [seen] = await app.db.select().from(notifications).where(eq(notifications.eventId, read.eventId));
	if (seen) return { ok: true, outcome: 'seen-before' };
	const payment = await paymentByRef(app.db, read.paymentRef);
	if (payment) await settlePayment(app, payment);
	// Kept after settling: if that fails, the processor repeats the notification and it is not taken for seen.
	await app.db
		.insert(notifications)
		.ignore()
		.values({ eventId: read.eventId, paymentRef: read.paymentRef, receivedAt: app.clock.wall() });
	return { ok: true, outcome: payment ? 'settled' : 'not-ours' };
}
