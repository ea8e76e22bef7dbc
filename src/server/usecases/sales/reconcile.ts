/** The hourly look: finds what no notification told, what nobody came back for, and renewals that stand still. */
import { and, asc, eq, gt, inArray, notInArray } from 'drizzle-orm';
import { PROCESSORS, type ProcessorName } from '$core/billing/pay-by';
import type { PaymentState } from '$core/billing/payment';
import type { Using } from '../../app';
import { type AgreementRow } from '../../db/queries/agreements';
import { paymentByRef, type Payment } from '../../db/queries/sales';
import { jobs } from '../../db/schema/running';
import { payments, processorCursors, agreements } from '../../db/schema/sales';
import type { PaymentFact } from '../../ports/payments';
import type { Transacting } from '../../transact';
import { wakeAgreement } from './move-agreement';
import { applyCard } from './change-card';
import { findCharge } from './charge';
import { isOfExtra } from './take-extra';
import { applyFact, NotBelieved, settlePayment } from './settle-payment';
import type { Selling } from './selling';

const AT_ONCE = 200;

export interface Found {
	/** Payments that the processor had moved on. */
	changed: number;
	/** Payments that waited and do not any more. */
	settled: number;
	/** Subscriptions that nothing would have moved on. */
	woken: number;
}

/** An id before any other. */
const BEFORE_ALL = '00000000-0000-0000-0000-000000000000';

export async function reconcile(app: Selling): Promise<Found> {
	return {
		changed: await readAllChanges(app),
		settled: await settleWaiting(app),
		woken: await wakeStill(app)
	};
}

async function readAllChanges(app: Selling): Promise<number> {
	let changed = 0;
	for (const name of PROCESSORS) changed += await readChanges(app, name);
	return changed;
}

/** Reads on from where the last look ended; the place is kept after each page, so that nothing is read over. */
async function readChanges(app: Selling, name: ProcessorName): Promise<number> {
	let changed = 0;
	for (;;) {
		const [known] = await app.db.select().from(processorCursors).where(eq(processorCursors.name, name));
		const { facts, cards, cursor } = await app.processors[name].changedSince(known?.cursor ?? null);
		for (const fact of cards) {
			const payment = await paymentByRef(app.db, fact.ref);
			if (payment) changed += Number((await settlePayment(app, payment)).hasMoved);
			else await applyCard(app, fact.ref, fact);
		}
		for (const fact of facts) {
			const payment = await paymentByRef(app.db, fact.ref);
			if (payment && (await believed(app, payment, fact))) changed++;
		}
		if (cursor === null || cursor === known?.cursor) return changed;
		await app.db.insert(processorCursors).values({ name, cursor }).onDuplicateKeyUpdate({ set: { cursor } });
	}
}

/** Whether anything was booked. One that cannot be believed keeps no other from being read. */
async function believed(app: Selling, { id: paymentId }: Payment, fact: PaymentFact): Promise<boolean> {
	try {
		return (await applyFact(app, paymentId, fact)).hasMoved;
	} catch (error) {
		// Where the database is away, the same is read again.
		if (!(error instanceof NotBelieved)) throw error;
		app.log.error({ err: error, paymentId }, 'what the processor says of a payment cannot be booked');
		return false;
	}
}

/** Asks about every payment that still waits, by id, however many there are. */
async function settleWaiting(app: Selling): Promise<number> {
	let settled = 0;
	let after = BEFORE_ALL;
	for (;;) {
		const waiting = await app.db
			.select()
			.from(payments)
			.where(and(eq(payments.state, 'pending'), gt(payments.id, after)))
			.orderBy(asc(payments.id))
			.limit(AT_ONCE);
		for (const payment of waiting) {
			const state = await settle(app, payment).catch((error: unknown) => {
				app.log.warn({ err: error, paymentId: payment.id }, 'could not reconcile a payment');
				return 'pending';
			});
			if (state !== 'pending') settled++;
		}
		const last = waiting.at(-1);
		if (!last) return settled;
		after = last.id;
	}
}

/** One without a reference was asked for when something broke off: whether it was charged is known by its key. */
async function settle(app: Selling, payment: Payment): Promise<PaymentState> {
	if (payment.processorRef !== null) return (await settlePayment(app, payment)).state;
	const isCharged = payment.agreementId !== null || isOfExtra(payment);
	return isCharged ? (await findCharge(app, payment)).state : payment.state;
}

/** Agreements whose next step is in no job: one that was lost, or restored from a backup. */
async function wakeStill(app: Transacting & Using<'site'>): Promise<number> {
	let woken = 0;
	let after = BEFORE_ALL;
	for (;;) {
		const living = await app.db
			.select()
			.from(agreements)
			.where(and(notInArray(agreements.state, ['ended', 'finished']), gt(agreements.id, after)))
			.orderBy(asc(agreements.id))
			.limit(AT_ONCE);
		const ids = living.map(({ id }) => id);
		const last = ids.at(-1);
		if (last === undefined) return woken;
		const moving = await app.db
			.select({ subjectId: jobs.subjectId })
			.from(jobs)
			.where(and(inArray(jobs.subjectId, ids), inArray(jobs.state, ['waiting', 'running'])));
		const isMoving = new Set(moving.map(({ subjectId }) => subjectId));
		const now = app.clock.business();
		for (const row of living)
			if (!isMoving.has(row.id) && isDue(row, now) && (await wakeAgreement(app, row.id))) woken++;
		after = last;
	}
}

function isDue({ state, paidThrough, nextAt }: AgreementRow, now: number): boolean {
	if (state === 'renewing' || state === 'owing') return true;
	return (nextAt !== null && nextAt <= now) || (paidThrough !== null && paidThrough <= now);
}
