/**
 * Whoever has bought a plan for several people gives the seats: to addresses, each of which takes its own by coming from its mailbox.
 * What is taken is a grant that goes with the buyer's, and ends with it or when it is taken back.
 */
import { and, eq, inArray, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { seatsFree } from '$core/billing/seats';
import { courseNow, ownAgreement, type AgreementRow } from '../../db/queries/agreements';
import { accountById, lockAccount } from '../../db/queries/members';
import { seatById, seatsOf, type StandingSeat } from '../../db/queries/seats';
import { grants } from '../../db/schema/access';
import { agreements, seats } from '../../db/schema/sales';
import { allows } from '../../people/rate-limit';
import { transact, type Transacting, type Work } from '../../transact';
import { grantTo, revokeGrants } from '../access/granting';
import { normaliseEmail } from '../accounts/sign-in';
import { lockAgreement } from './move-agreement';

export type GaveSeats =
	/** `left`: those that have one already, or are the buyer's own. */
	| { ok: true; given: number; left: string[] }
	/** `full`: there are not so many. `ended`: what they are of has ended. */
	| { ok: false; code: 'unknown' | 'full' | 'ended' | 'too-many' };

/** @param emails as they were typed, each an address */
export async function giveSeats(
	app: Transacting,
	memberId: string,
	agreementId: string,
	emails: readonly string[]
): Promise<GaveSeats> {
	if (!(await ownAgreement(app.db, memberId, agreementId))) return { ok: false, code: 'unknown' };
	const wanted = [...new Set(emails.map(normaliseEmail))];
	for (const email of wanted)
		if (!(await allows(app, 'seatsByMember', memberId)) || !(await allows(app, 'linkByEmail', email)))
			return { ok: false, code: 'too-many' };
	return transact(app, { id: memberId }, async (work): Promise<GaveSeats> => {
		const row = await lockAgreement(work, agreementId);
		if (row.state === 'ended') return { ok: false, code: 'ended' };
		const account = await accountById(work.tx, memberId);
		const known = await seatsOf(work.tx, agreementId);
		const has = (email: string) => email === account?.email || known.some((one) => one.email === email);
		const added = wanted.filter((email) => !has(email));
		if (added.length > seatsFree(row.seats, known.length)) return { ok: false, code: 'full' };
		for (const email of added) await give(work, row, email);
		return { ok: true, given: added.length, left: wanted.filter(has) };
	});
}

async function give(work: Work, row: AgreementRow, email: string): Promise<void> {
	const id = uuidv7();
	await work.tx.insert(seats).values({ id, agreementId: row.id, email, invitedAt: work.now });
	await work.queue('mail', { occasion: 'seat', seatId: id }, {});
	await work.note({
		action: 'gave-seat',
		subject: { kind: 'subscription', id: row.id },
		memberId: row.memberId,
		after: { email }
	});
}

/** The mail once more. */
export async function sendSeatAgain(
	app: Transacting,
	memberId: string,
	seatId: string
): Promise<{ ok: true } | { ok: false; code: 'unknown' | 'too-many' }> {
	const seat = await seatById(app.db, seatId);
	if (seat?.giverId !== memberId || seat.endedAt !== null || seat.memberId !== null || seat.email === null)
		return { ok: false, code: 'unknown' };
	if (!(await allows(app, 'tellByGift', seatId)) || !(await allows(app, 'linkByEmail', seat.email)))
		return { ok: false, code: 'too-many' };
	await transact(app, { id: memberId }, (work) => work.queue('mail', { occasion: 'seat', seatId }, {}));
	return { ok: true };
}

/** By whoever gave it: what was taken shuts, and the seat is free. @returns whether it was theirs to take back */
export async function takeSeatBack(app: Transacting, memberId: string, seatId: string): Promise<boolean> {
	const known = await seatById(app.db, seatId);
	if (known?.giverId !== memberId) return false;
	await transact(app, { id: memberId }, async (work) => {
		await lockAgreement(work, known.agreementId);
		const seat = await seatById(work.tx, seatId);
		if (!seat || seat.endedAt !== null) return;
		await work.tx.update(seats).set({ endedAt: work.now }).where(eq(seats.id, seatId));
		if (seat.grantId) await revokeGrants(work, eq(grants.id, seat.grantId));
		await work.note({
			action: 'took-seat-back',
			subject: { kind: 'subscription', id: seat.agreementId },
			memberId,
			before: { email: seat.email }
		});
	});
	return true;
}

export type TookSeat =
	/** `shut`: what it is of is not open now. */
	{ ok: true; planId: string } | { ok: false; code: 'unknown' | 'shut' };

/** Whoever has proved the mailbox that a seat is for takes it; nobody else learns that there is one. */
export async function takeSeat(app: Transacting, memberId: string, seatId: string): Promise<TookSeat> {
	const known = await seatById(app.db, seatId);
	if (!known) return { ok: false, code: 'unknown' };
	return transact(app, { id: memberId }, async (work): Promise<TookSeat> => {
		const row = await lockAgreement(work, known.agreementId);
		await lockAccount(work.tx, memberId);
		const seat = await seatById(work.tx, seatId);
		const account = await accountById(work.tx, memberId);
		if (!seat || !account || !isSeatFor(seat, account)) return { ok: false, code: 'unknown' };
		if (seat.memberId === memberId) return { ok: true, planId: seat.planId };
		const { open } = await courseNow(work.tx, row);
		if (!open || (open.until !== null && open.until <= work.now)) return { ok: false, code: 'shut' };
		const from = Math.max(open.from, work.now);
		const { planId, until } = open;
		const given = { memberId, planId, from, until, seatOf: row.grantId, source: 'seat' as const, by: 'seat' };
		const [grantId = ''] = await grantTo(work, [given]);
		await work.tx
			.update(seats)
			.set({ memberId, joinedAt: work.now, grantId })
			.where(and(eq(seats.id, seatId), isNull(seats.memberId)));
		await work.note({
			action: 'took-seat',
			subject: { kind: 'subscription', id: row.id },
			memberId,
			after: { planId: open.planId }
		});
		return { ok: true, planId: open.planId };
	});
}

/** Whether somebody may take it: theirs is the mailbox, and they have shown it. */
export function isSeatFor(
	seat: Pick<StandingSeat, 'email' | 'memberId' | 'endedAt'>,
	account: { id: string; email: string | null; provedAt: number | null }
): boolean {
	if (seat.endedAt !== null) return false;
	if (seat.memberId !== null) return seat.memberId === account.id;
	return account.provedAt !== null && account.email !== null && account.email === seat.email;
}

/** Of an account that is deleted: what it gave is nobody's any more, and what it had is free. */
export async function forgetSeats(work: Work, memberId: string, email: string): Promise<void> {
	const { tx, now } = work;
	const own = tx.select({ id: agreements.id }).from(agreements).where(eq(agreements.memberId, memberId));
	await tx.update(seats).set({ email: null, endedAt: now }).where(inArray(seats.agreementId, own));
	for (const which of [eq(seats.memberId, memberId), eq(seats.email, email)])
		await tx.update(seats).set({ email: null, endedAt: now }).where(which);
}
