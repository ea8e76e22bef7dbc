/** Access codes: batches of them, and their redeeming. */
import { randomInt } from 'node:crypto';
import { and, eq, inArray, lt, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { normaliseCode } from '$core/access/batches';
import type { Discount } from '$core/billing/discount';
import { addCalendar } from '$core/time/calendar';
import type { Using } from '../../app';
import { DUPLICATE_KEY, errorNumber } from '../../db/connect';
import { codeBatches, codes, redemptions } from '../../db/schema/access';
import { transact, type Work, type Transacting } from '../../transact';
import { need, type Staff } from '../../people/need';
import { allows } from '../../people/rate-limit';
import { grantTo } from '../access/granting';

/** Letters and digits that are not taken for each other. */
const ALPHABET = 'ABCDEFGHJKLMNPQRSTUVWXYZ23456789';
const LENGTH = 10;
export const MAX_CODES = 5000;

export type CodeBatch = typeof codeBatches.$inferSelect;

export interface BatchWish {
	name: string;
	/** One code that people can remember; else `count` made ones. */
	code: string | null;
	count: number;
	does: CodesDo;
	startsAt: number | null;
	endsAt: number | null;
	usesPerCode: number | null;
}

/** What a code does. */
export type CodesDo =
	/** It lets its holder cross the fences that name it. */
	| { kind: 'opens' }
	/** `days`: how long the plan is held; `null`: for good. */
	| { kind: 'gives'; planId: string; days: number | null }
	/** `planIds`: of which plans; `null`: of any. */
	| {
			kind: 'takes-off';
			discount: Discount;
			planIds: readonly string[] | null;
			isOncePerBuyer: boolean;
	  };

export async function makeBatch(
	app: Transacting,
	actor: Staff,
	wish: BatchWish
): Promise<{ ok: true; batchId: string } | { ok: false; code: 'taken' }> {
	need(actor, 'codes');
	const own = wish.code === null ? made(wish.count) : [normaliseCode(wish.code)];
	const id = uuidv7();
	try {
		await transact(app, actor, (work) => writeBatch(work, id, own, wish));
		return { ok: true, batchId: id };
	} catch (error) {
		if (errorNumber(error) === DUPLICATE_KEY) return { ok: false, code: 'taken' };
		throw error;
	}
}

/** @param own the codes of it */
export async function writeBatch(
	work: Work,
	id: string,
	own: readonly string[],
	{ name, does, startsAt, endsAt, usesPerCode }: BatchWish
): Promise<void> {
	const times = { startsAt, endsAt, usesPerCode, createdAt: work.now };
	const row = { id, name, ...columnsOf(does), ...times };
	await work.tx.insert(codeBatches).values(row);
	await work.tx.insert(codes).values(own.map((code) => ({ batchId: id, code })));
	await work.note({
		action: 'made-codes',
		subject: { kind: 'codes', id },
		after: { ...row, count: own.length }
	});
	work.contentChanged();
}

function columnsOf(does: CodesDo) {
	const gives = does.kind === 'gives' ? does : null;
	const off = does.kind === 'takes-off' ? does : null;
	return {
		...{ planId: gives?.planId ?? null, days: gives?.days ?? null },
		...{ discount: off?.discount ?? null, offPlans: off?.planIds ?? null },
		isOncePerBuyer: off?.isOncePerBuyer ?? false
	};
}

/** Sets when some batches end; `null`: never. What was redeemed stays, whatever is set. */
export async function endBatches(
	app: Transacting,
	actor: Staff,
	batchIds: readonly string[],
	endsAt: number | 'now' | null
): Promise<number> {
	need(actor, 'codes');
	return transact(app, actor, async (work) => {
		const before = await work.tx
			.select({ id: codeBatches.id, endsAt: codeBatches.endsAt })
			.from(codeBatches)
			.where(inArray(codeBatches.id, [...batchIds]))
			.orderBy(codeBatches.id)
			.for('update');
		const to = endsAt === 'now' ? work.now : endsAt;
		// What is over already does not end once more.
		const some = before.filter((one) => endsAt !== 'now' || one.endsAt === null || one.endsAt > work.now);
		if (some.length === 0) return 0;
		await work.tx
			.update(codeBatches)
			.set({ endsAt: to })
			.where(
				inArray(
					codeBatches.id,
					some.map(({ id }) => id)
				)
			);
		await work.noteAll(
			some.map(({ id, endsAt: was }) => ({
				action: 'ended-codes',
				subject: { kind: 'codes', id },
				before: { endsAt: was },
				after: { endsAt: to }
			}))
		);
		work.contentChanged();
		return some.length;
	});
}

function made(wanted: number): string[] {
	const all = new Set<string>();
	while (all.size < wanted)
		all.add(Array.from({ length: LENGTH }, () => ALPHABET[randomInt(ALPHABET.length)] ?? '').join(''));
	return [...all];
}

export type Redeemed =
	| { ok: true; batchId: string; planId: string | null }
	/** `takes-off`: it gives nothing, and is typed where one buys. */
	| {
			ok: false;
			code: 'unknown' | 'too-early' | 'over' | 'used-up' | 'sign-in-first' | 'too-many' | 'takes-off';
	  };

/**
 * For whoever is signed in, or for the device. Redeeming a code again changes nothing and uses nothing up.
 * @param client whose guesses are counted
 */
export async function redeemCode(
	app: Transacting & Using<'site'>,
	who: { memberId: string } | { deviceHash: string },
	typed: string,
	client: string
): Promise<Redeemed> {
	if (!(await allows(app, 'codeByClient', client))) return { ok: false, code: 'too-many' };
	const memberId = 'memberId' in who ? who.memberId : null;
	const { zone } = await app.site();
	return transact(app, memberId ? { id: memberId } : null, async (work) => {
		const [found] = await work.tx
			.select({ code: codes, batch: codeBatches })
			.from(codes)
			.innerJoin(codeBatches, eq(codeBatches.id, codes.batchId))
			.where(eq(codes.code, normaliseCode(typed)))
			// Two presses take turns: the second finds what the first has done.
			.for('update');
		if (!found) return { ok: false, code: 'unknown' };
		const { code, batch } = found;
		if (batch.discount) return { ok: false, code: 'takes-off' };
		if (batch.startsAt !== null && work.now < batch.startsAt) return { ok: false, code: 'too-early' };
		if (batch.endsAt !== null && work.now >= batch.endsAt) return { ok: false, code: 'over' };
		if (batch.planId !== null && memberId === null) return { ok: false, code: 'sign-in-first' };
		const done = { ok: true as const, batchId: batch.id, planId: batch.planId };
		const mine =
			'memberId' in who ? eq(redemptions.memberId, who.memberId) : eq(redemptions.deviceHash, who.deviceHash);
		const [known] = await work.tx
			.select({ id: redemptions.id })
			.from(redemptions)
			.where(and(eq(redemptions.codeId, code.id), mine));
		if (known) return done;
		const [used] = await work.tx
			.update(codes)
			.set({ uses: sql`${codes.uses} + 1` })
			.where(
				batch.usesPerCode === null
					? eq(codes.id, code.id)
					: and(eq(codes.id, code.id), lt(codes.uses, batch.usesPerCode))
			);
		if (used.affectedRows !== 1) return { ok: false, code: 'used-up' };
		await work.tx.insert(redemptions).values({
			batchId: batch.id,
			codeId: code.id,
			memberId,
			deviceHash: 'deviceHash' in who ? who.deviceHash : null,
			at: work.now
		});
		if (batch.planId !== null && memberId !== null) await giveFor(work, zone, batch, batch.planId, memberId);
		if (memberId) work.standingChanged(memberId);
		else work.devicesChanged();
		await work.note({
			action: 'redeemed-code',
			subject: { kind: 'codes', id: batch.id },
			...(memberId ? { memberId } : {}),
			after: batch.name
		});
		return done;
	});
}

async function giveFor(
	work: Work,
	zone: string,
	batch: CodeBatch,
	planId: string,
	memberId: string
): Promise<void> {
	const until = batch.days === null ? null : addCalendar(work.now, batch.days, 'day', zone);
	await grantTo(work, [{ memberId, planId, from: work.now, until, source: 'code', by: 'code' }]);
}
