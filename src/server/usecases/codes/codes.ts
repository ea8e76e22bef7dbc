/** Access codes: batches of them, and their redeeming. */
import { randomInt } from 'node:crypto';
import { and, eq, inArray, lt, sql, type SQL } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { normaliseCode } from '$core/access/batches';
import type { Discount } from '$core/billing/discount';
import { addCalendar } from '$core/time/calendar';
import type { Using } from '../../app';
import { DUPLICATE_KEY, errorNumber, type Db } from '../../db/connect';
import { codeBatches, codes, redemptions } from '../../db/schema/access';
import { transact, type Work, type Transacting } from '../../transact';
import { need, type Staff } from '../../people/need';
import { allows } from '../../people/rate-limit';
import { grantTo } from '../access/granting';
import { normaliseEmail } from '../accounts/sign-in';
import { mayAsk } from '../accounts/sign-in-link';
import { keepRedeemed } from './keep';

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
	| { ok: true; redemptionId: string; planId: string | null }
	/** `takes-off`: it gives nothing, and is typed where one buys. `needs-address`: what it gives waits in an account. */
	| {
			ok: false;
			code:
				| 'unknown'
				| 'too-early'
				| 'over'
				| 'used-up'
				| 'needs-address'
				| 'too-many'
				| 'too-many-mails'
				| 'takes-off'
				/** Somebody practises: codes are used up for all. */
				| 'practice';
	  };

/**
 * Whoever redeems a code: signed in, on a device where it may have been redeemed before, or on a device alone, with an address at
 * which an account waits (empty: none was typed).
 */
export type Redeemer =
	{ memberId: string; deviceHash: string | null } | { deviceHash: string; email: string };

/**
 * For whoever is signed in, or for the device; then a link is mailed to the address, and pressing it keeps in an account what the
 * code opened. Redeeming a code again uses nothing up and lengthens nothing; a link is mailed again.
 * @param next the path that the mailed link lands on
 * @param client whose guesses are counted
 */
export async function redeemCode(
	app: Transacting & Using<'site'>,
	who: Redeemer,
	{ typed, next, client }: { typed: string; next: string; client: string }
): Promise<Redeemed> {
	if (app.isPractice) return { ok: false, code: 'practice' };
	if (!(await allows(app, 'codeByClient', client))) return { ok: false, code: 'too-many' };
	const email = 'email' in who && who.email !== '' ? normaliseEmail(who.email) : null;
	// Only a code that there is asks for a mail: whoever mistypes one is not kept from the right one.
	if (email !== null && (await isCode(app.db, typed)) && !(await mayAsk(app, email, client)))
		return { ok: false, code: 'too-many-mails' };
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
		if (batch.planId !== null && memberId === null && email === null)
			return { ok: false, code: 'needs-address' };
		const redemptionId =
			(await knownRedemption(work, code.id, who)) ?? (await redeemNow(work, { code, batch, who, zone }));
		if (redemptionId === null) return { ok: false, code: 'used-up' };
		if (email !== null) await work.queue('sign-in-mail', { email, next, joins: true, redemptionId });
		return { ok: true, redemptionId, planId: batch.planId };
	});
}

async function isCode(db: Db, typed: string): Promise<boolean> {
	const is = eq(codes.code, normaliseCode(typed));
	return (await db.select({ id: codes.id }).from(codes).where(is)).length > 0;
}

/** What they have of the code already; what was opened on the device goes over to whoever is signed in on it. */
async function knownRedemption(work: Work, codeId: string, who: Redeemer): Promise<string | null> {
	const by = async (mine: SQL) => {
		const [known] = await work.tx
			.select({ id: redemptions.id })
			.from(redemptions)
			.where(and(eq(redemptions.codeId, codeId), mine));
		return known?.id ?? null;
	};
	const own = 'memberId' in who ? await by(eq(redemptions.memberId, who.memberId)) : null;
	if (own !== null || who.deviceHash === null) return own;
	const onDevice = await by(eq(redemptions.deviceHash, who.deviceHash));
	if (onDevice !== null && 'memberId' in who) await keepRedeemed(work, onDevice, who.memberId);
	return onDevice;
}

interface Redeeming {
	code: typeof codes.$inferSelect;
	batch: CodeBatch;
	who: Redeemer;
	zone: string;
}

/** @returns `null`: it has been used as often as it can be */
async function redeemNow(work: Work, { code, batch, who, zone }: Redeeming): Promise<string | null> {
	const { planId, days, usesPerCode } = batch;
	const isLeft = usesPerCode === null ? undefined : lt(codes.uses, usesPerCode);
	const [used] = await work.tx
		.update(codes)
		.set({ uses: sql`${codes.uses} + 1` })
		.where(and(eq(codes.id, code.id), isLeft));
	if (used.affectedRows !== 1) return null;
	const memberId = 'memberId' in who ? who.memberId : null;
	const until = planId === null || days === null ? null : addCalendar(work.now, days, 'day', zone);
	const id = uuidv7();
	await work.tx.insert(redemptions).values({
		...{ id, batchId: batch.id, codeId: code.id, memberId, at: work.now, until },
		deviceHash: memberId === null ? who.deviceHash : null
	});
	if (planId !== null && memberId !== null)
		await grantTo(work, [{ memberId, planId, from: work.now, until, source: 'code', by: 'code' }]);
	if (memberId) work.standingChanged(memberId);
	else work.devicesChanged();
	await work.note({
		action: 'redeemed-code',
		subject: { kind: 'codes', id: batch.id },
		...(memberId ? { memberId } : {}),
		after: batch.name
	});
	return id;
}
