/** Counted openings: taken where a limit makes them count, given back where nothing came of them, and given on top. */
import { and, eq, isNotNull, isNull, or, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { decide } from '$core/access/decide/decide';
import { NO_CONTEXT, type Use } from '$core/access/model';
import { ended } from '$core/access/uses-left';
import { isGivenBack } from '$core/media/uses';
import type { Using } from '../../app';
import { DONE, notDone, type Done } from '../../done';
import { itemById } from '../../db/queries/items';
import { lockAccount } from '../../db/queries/members';
import { countedOf } from '../../db/queries/uses';
import { useGifts, uses } from '../../db/schema/access';
import { transact, type Work, type Transacting } from '../../transact';
import { need, type Staff } from '../../people/need';

/** What belongs to one use: a page that is loaded again, a film watched in two sittings, a download that is resumed. */
export const SAME_USE_MS = 24 * 3_600_000;

/** The most uses that are given at once. */
const MOST_GIVEN = 1000;

/** `closed`: the limit is reached, or access has ended; nothing was counted, and nothing may be sent. */
export type Taken = Done<'closed'>;

/** Whether a use of a grant goes on: known from memory, so that each segment may ask. */
export async function isUnderWay(
	app: Using<'clock' | 'rights'>,
	memberId: string,
	itemId: string,
	grantId: string | null
): Promise<boolean> {
	const now = app.clock.business();
	const { uses: known } = await app.rights.counted(memberId, itemId);
	return known.some((use) => use.grantId === grantId && now < use.goesOnUntil);
}

/** Before anything counted is sent, whichever of its addresses is asked first. */
export async function useBeforeSending(
	app: Transacting,
	{ memberId, itemId, grantId }: { memberId: string; itemId: string; grantId: string | null }
): Promise<Taken> {
	return (await isUnderWay(app, memberId, itemId, grantId)) ? DONE : takeUse(app, memberId, itemId);
}

/** Counts the opening of a page or film. */
export async function takeUse(app: Transacting, memberId: string, itemId: string): Promise<Taken> {
	return taking(app, memberId, itemId, async (work, mayBegin) => {
		const { now, tx } = work;
		const { uses: known } = await countedOf(tx, memberId, itemId);
		const decided = await mayBegin(known);
		if (!decided.isOpen) return notDone('closed');
		const isGoingOn = known.some((use) => use.grantId === decided.grantId && now < use.goesOnUntil);
		if (!decided.isCounted || isGoingOn) return DONE;
		await insertUse(work, uuidv7(), memberId, itemId, decided.grantId);
		return DONE;
	});
}

/**
 * Counts a file, by the use that a press made: the first time it takes one, later it is the same. Here a use that goes on
 * does not stand in for another, or one link would serve for ever.
 */
export async function takeFileUse(
	app: Transacting,
	{ useId, memberId, itemId, assetId }: { useId: string; memberId: string; itemId: string; assetId: string }
): Promise<Taken> {
	return taking(app, memberId, itemId, async (work, mayBegin) => {
		const { tx } = work;
		const [own] = await tx.select().from(uses).where(eq(uses.id, useId));
		if (own && own.givenBackAt === null) return DONE;
		const { uses: known } = await countedOf(tx, memberId, itemId);
		const decided = await mayBegin(known.map(ended));
		if (!decided.isOpen) return notDone('closed');
		if (!decided.isCounted) return DONE;
		if (!own) {
			await insertUse(work, useId, memberId, itemId, decided.grantId, assetId);
			return DONE;
		}
		await tx.update(uses).set({ givenBackAt: null }).where(eq(uses.id, useId));
		work.standingChanged(memberId);
		return DONE;
	});
}

/**
 * Adds to what was sent of a use, and gives it back where that is almost nothing, together with all that was given back
 * before.
 */
export async function settleFileUse(
	app: Transacting,
	{ useId, memberId, itemId, assetId }: { useId: string; memberId: string; itemId: string; assetId: string },
	sentBytes: number,
	size: number
): Promise<'counts' | 'given-back'> {
	return transact(app, null, async (work) => {
		await lockAccount(work.tx, memberId);
		await work.tx
			.update(uses)
			.set({ sentBytes: sql`${uses.sentBytes} + ${sentBytes}` })
			.where(eq(uses.id, useId));
		const [free] = await work.tx
			.select({ bytes: sql<number>`coalesce(sum(${uses.sentBytes}), 0)`.mapWith(Number) })
			.from(uses)
			.where(
				and(
					eq(uses.memberId, memberId),
					eq(uses.itemId, itemId),
					eq(uses.assetId, assetId),
					or(eq(uses.id, useId), isNotNull(uses.givenBackAt))
				)
			);
		const counts = !isGivenBack(free?.bytes ?? 0, size);
		const [moved] = await work.tx
			.update(uses)
			.set({ givenBackAt: counts ? null : work.now })
			.where(and(eq(uses.id, useId), counts ? isNotNull(uses.givenBackAt) : isNull(uses.givenBackAt)));
		if (moved.affectedRows === 1) work.standingChanged(memberId);
		return counts ? 'counts' : 'given-back';
	});
}

/** The publisher gives a member more uses of an item. */
export async function giveMoreUses(
	app: Transacting,
	actor: Staff,
	{ memberId, itemId, count }: { memberId: string; itemId: string; count: number }
): Promise<Done<'unknown' | 'bad-count'>> {
	need(actor, 'members');
	if (!Number.isSafeInteger(count) || count < 1 || count > MOST_GIVEN) return notDone('bad-count');
	return transact(app, actor, async (work) => {
		const item = await itemById(work.tx, itemId);
		if (!item) return notDone('unknown');
		await work.tx.insert(useGifts).values({ memberId, itemId, count, at: work.now });
		await work.note({
			action: 'gave-uses',
			subject: { kind: 'item', id: itemId },
			memberId,
			after: { count }
		});
		work.standingChanged(memberId);
		return DONE;
	});
}

type Decided = { isOpen: false } | { isOpen: true; isCounted: boolean; grantId: string | null };

/** Two at once take turns, so that the last use is taken once. */
async function taking(
	app: Transacting,
	memberId: string,
	itemId: string,
	take: (work: Work, mayBegin: (uses: readonly Use[]) => Promise<Decided>) => Promise<Taken>
): Promise<Taken> {
	const policy = await app.rights.policy();
	const standing = await app.rights.standing(memberId);
	if (!standing) return notDone('closed');
	return transact(app, { id: memberId }, async (work) => {
		await lockAccount(work.tx, memberId);
		return take(work, async (known) => {
			const { gifts } = await countedOf(work.tx, memberId, itemId);
			const context = { ...NO_CONTEXT, uses: known, gifts };
			// Whoever waited for the lock has read the clock before what came first, and another node has a clock of its own.
			const now = known.reduce((latest, { at }) => Math.max(latest, at), work.now);
			const decision = decide(policy, standing.viewer, itemId, now, context);
			if (decision.verdict !== 'open') return { isOpen: false };
			const { allowedBy } = decision;
			if (allowedBy.by !== 'crossing') return { isOpen: true, isCounted: false, grantId: null };
			return { isOpen: true, isCounted: allowedBy.isCounted, grantId: allowedBy.grantId };
		});
	});
}

async function insertUse(
	{ tx, now, standingChanged }: Work,
	id: string,
	memberId: string,
	itemId: string,
	grantId: string | null,
	assetId: string | null = null
): Promise<void> {
	const goesOnUntil = now + SAME_USE_MS;
	await tx.insert(uses).values({ id, itemId, memberId, grantId, assetId, at: now, goesOnUntil });
	standingChanged(memberId);
}
