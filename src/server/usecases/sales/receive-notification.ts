import { eq, sql } from 'drizzle-orm';
import type { Using } from '../../app';
import { gathering } from '../../gathering';
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
const MOST_AT_ONCE = 500;

interface Named {
	eventId: string;
	paymentRef: string;
}
type Outcome = 'stored' | 'seen-before';

/** Of each database that this process writes to. */
const writers = new WeakMap<object, (one: Named) => Promise<Outcome>>();

/**
 * A notification is a hint: it says which payment to look at, and what counts is what the processor then says of it. So
 * order, repetition and delay do not matter. It is stored and answered before the processor is asked: one that is slow to
 * answer is not made to repeat itself. Those that come together are stored together.
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
	let store = writers.get(app.db);
	if (!store) {
		store = gathering(MOST_AT_ONCE, (all) => storeAll(app, all));
		writers.set(app.db, store);
	}
	return { ok: true, outcome: await store({ eventId, paymentRef }) };
}

/** Each event counts once, whoever brings it, however often, to whichever node. */
async function storeAll(app: Transacting, all: readonly Named[]): Promise<Outcome[]> {
	const isNew = await transact(app, null, async ({ tx, wall, queueAll }) => {
		const receivedAt = sql.param(wall, notifications.receivedAt);
		const rows = all.map(({ eventId, paymentRef }) => sql`(${eventId}, ${paymentRef}, ${receivedAt})`);
		const [stored] = (await tx.execute(
			sql`insert ignore into ${notifications} (event_id, payment_ref, received_at)
				values ${sql.join(rows, sql`, `)} returning event_id as eventId`
		)) as unknown as [{ eventId: string }[]];
		await queueAll(
			'notified',
			stored.map(({ eventId }) => ({ eventId }))
		);
		return new Set(stored.map(({ eventId }) => eventId));
	});
	// Of an event that came twice in one go, the first is the one that was stored.
	return all.map(({ eventId }) => (isNew.delete(eventId) ? 'stored' : 'seen-before'));
}

/** The job: looks at the payment, or the page for a card, that a stored notification names. */
export async function settleNotified(app: Selling, eventId: string): Promise<void> {
	const [told] = await app.db.select().from(notifications).where(eq(notifications.eventId, eventId));
	const payment = told ? await paymentByRef(app.db, told.paymentRef) : null;
	if (payment) return void (await settlePayment(app, payment));
	const change = told ? await cardChangeByRef(app, told.paymentRef) : null;
	if (change) await settleCard(app, change);
}
