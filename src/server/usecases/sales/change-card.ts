/** The card that what follows is charged to: kept when it was taken, changed by the member at any time. */
import { and, desc, eq, lt, or } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { addCalendar, readLocal } from '$core/time/calendar';
import type { Using } from '../../app';
import { agreementById, livingAgreements, ownAgreement } from '../../db/queries/agreements';
import { cardByRef, planById } from '../../db/queries/sales';
import { agreements, cardChanges, cards } from '../../db/schema/sales';
import type { Card, CardFact } from '../../ports/payments';
import { transact, type Work } from '../../transact';
import { hearOf } from './move-agreement';
import { pageOf } from './pay-page';
import type { Selling } from './selling';

/** Days before a card is over of which its holder is told. */
const TOLD_BEFORE_DAYS = 21;

/** Keeps what may be shown of a card. Inside a transaction. */
export async function keepCard(work: Work, memberId: string, { ref, ending, expires }: Card): Promise<void> {
	await work.tx.insert(cards).ignore().values({ ref, memberId, ending, expires, createdAt: work.now });
	if (expires === null) return;
	// It is good to the last day of its month, wherever its bank is.
	const month = readLocal(`${expires}-01`, 'UTC');
	if (!month.ok) return;
	const over = addCalendar(month.at, 1, 'month', 'UTC');
	const runAt = addCalendar(over, -TOLD_BEFORE_DAYS, 'day', 'UTC');
	await work.queue('card-expires', { cardRef: ref }, { key: `card-expires:${ref}`, runAt, memberId });
}

/**
 * Takes a card for what an agreement asks for from now on, and for everything else that was charged to the card before it.
 * What is owed is tried again at once.
 */
export async function takeCard(work: Work, agreementId: string, card: Card): Promise<void> {
	const [row] = await work.tx.select().from(agreements).where(eq(agreements.id, agreementId)).for('update');
	if (!row) throw new Error(`There is no agreement ${agreementId}`);
	await keepCard(work, row.memberId, card);
	if (row.cardRef === card.ref) return;
	const isOnOld = row.cardRef === null ? undefined : eq(agreements.cardRef, row.cardRef);
	const changed = await work.tx
		.select()
		.from(agreements)
		.where(and(eq(agreements.memberId, row.memberId), or(eq(agreements.id, row.id), isOnOld)))
		.orderBy(agreements.id)
		.for('update');
	for (const { id } of changed)
		await work.tx.update(agreements).set({ cardRef: card.ref }).where(eq(agreements.id, id));
	await work.note({
		action: 'changed-card',
		subject: { kind: 'subscription', id: row.id },
		memberId: row.memberId,
		after: { ending: card.ending }
	});
	for (const { id, state, period, attempt } of changed)
		if (state === 'owing' && attempt > 0)
			await hearOf(work, id, { kind: 'retry-due', period, attempt }, work.now);
}

export type CardAsked = { ok: true; payUrl: string } | { ok: false; code: 'unknown' | 'nothing-follows' };

/** Leads a member to the processor's page, on which another card is kept. */
export async function askForCard(
	app: Selling & Using<'settings'>,
	memberId: string,
	agreementId: string
): Promise<CardAsked> {
	const row = await ownAgreement(app.db, memberId, agreementId);
	if (!row) return { ok: false, code: 'unknown' };
	const { vault } = app.processors[row.processor];
	if (vault === null || row.cardRef === null || row.state === 'ended' || row.state === 'finished')
		return { ok: false, code: 'nothing-follows' };
	const open = await openPage(app, agreementId);
	if (open) return { ok: true, payUrl: open };
	const plan = await planById(app.db, row.planId);
	const id = uuidv7();
	await app.db
		.insert(cardChanges)
		.values({ id, memberId, agreementId, state: 'pending', createdAt: app.clock.business() });
	const { ref, payUrl } = await vault.openSession({
		key: `card:${id}`,
		...(await pageOf(app, plan, `/account/card/${id}`))
	});
	await app.db.update(cardChanges).set({ processorRef: ref, payUrl }).where(eq(cardChanges.id, id));
	return { ok: true, payUrl };
}

/** The page that was begun before, where a card may still be given on it: there is one at a time. */
async function openPage(app: Selling, agreementId: string): Promise<string | null> {
	const [last] = await app.db
		.select()
		.from(cardChanges)
		.where(and(eq(cardChanges.agreementId, agreementId), eq(cardChanges.state, 'pending')))
		.orderBy(desc(cardChanges.id))
		.limit(1);
	return last && (await settleCard(app, last)) === 'pending' ? last.payUrl : null;
}

export type CardChange = typeof cardChanges.$inferSelect;

/** What the processor knows by now of a change that this member began; `null`: there is none. */
export async function settleOwnCard(
	app: Selling,
	memberId: string,
	changeId: string
): Promise<CardFact['state'] | null> {
	if (!/^[0-9a-f-]{36}$/.test(changeId)) return null;
	const [change] = await app.db.select().from(cardChanges).where(eq(cardChanges.id, changeId));
	return change?.memberId === memberId ? settleCard(app, change) : null;
}

/** Asks the processor what became of a page, and takes the card that was given on it. */
export async function settleCard(app: Selling, change: CardChange): Promise<CardFact['state']> {
	if (change.state !== 'pending' || change.processorRef === null) return change.state;
	const row = await agreementById(app.db, change.agreementId);
	const fact = row && (await app.processors[row.processor].vault?.fetch(change.processorRef));
	return fact ? applyCard(app, change.processorRef, fact) : change.state;
}

/** The same fact twice takes the card once. */
export async function applyCard(
	app: Selling,
	processorRef: string,
	fact: CardFact
): Promise<CardFact['state']> {
	const { state, card } = fact;
	if (state === 'pending' || (state === 'captured' && card === null)) return 'pending';
	return transact(app, null, async (work) => {
		const [change] = await work.tx
			.select()
			.from(cardChanges)
			.where(eq(cardChanges.processorRef, processorRef))
			.for('update');
		if (!change) return state;
		if (change.state !== 'pending') return change.state;
		await work.tx.update(cardChanges).set({ state }).where(eq(cardChanges.id, change.id));
		if (state === 'captured' && card) await takeCard(work, change.agreementId, card);
		return state;
	});
}

export async function cardChangeByRef(app: Using<'db'>, ref: string): Promise<CardChange | null> {
	const [change] = await app.db.select().from(cardChanges).where(eq(cardChanges.processorRef, ref));
	return change ?? null;
}

const FORGOTTEN_AFTER_MS = 7 * 86_400_000;

/** Forgets pages on which nobody gave a card. */
export async function forgetCardPages(app: Using<'clock' | 'db'>): Promise<void> {
	const before = app.clock.business() - FORGOTTEN_AFTER_MS;
	await app.db
		.delete(cardChanges)
		.where(and(eq(cardChanges.state, 'pending'), lt(cardChanges.createdAt, before)));
}

/** The job: tells who pays with a card that is nearly over, where something is still to be charged to it. */
export async function tellOfExpiry(app: Selling, cardRef: string): Promise<void> {
	const card = await cardByRef(app.db, cardRef);
	if (!card) return;
	const living = await livingAgreements(app.db, card.memberId, app.clock.business());
	const isUsed = living.some(
		({ cardRef: ref, nextAt, processor }) => ref === cardRef && nextAt !== null && processor === 'card'
	);
	if (!isUsed) return;
	const about = { occasion: 'card-expires' as const, cardRef };
	await transact(app, null, (work) =>
		work.queue('mail', about, { key: `mail:card-expires:${cardRef}`, memberId: card.memberId })
	);
}
