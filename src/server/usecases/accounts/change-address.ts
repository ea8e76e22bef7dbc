/**
 * Another mail address for an account: it counts once a link in a mail to it was pressed. The old address, if it was proved, is
 * told, with a link that puts it back: whoever has come by an account for a while does not keep it.
 */
import { and, eq, gt, gte, isNull } from 'drizzle-orm';
import type { Using } from '../../app';
import { DUPLICATE_KEY, errorNumber, type Handle } from '../../db/connect';
import { accountById, lockAccount } from '../../db/queries/members';
import { clearAddress } from '../../db/queries/sent-mails';
import {
	accounts,
	addressChanges,
	recoveryCodes,
	secondFactors,
	sessions,
	signInLinks
} from '../../db/schema/people';
import { gifts } from '../../db/schema/sales';
import { need, type Staff } from '../../people/need';
import { hashOf, newToken } from '../../people/sessions';
import { transact, type Transacting, type Work } from '../../transact';
import { endSessions, showCurrent, type Own } from './own-account';
import { mayAsk } from './sign-in-link';
import { normaliseEmail } from './sign-in';

const DAY_MS = 86_400_000;
/** So long the link to the new address works, and the one that puts the old one back. */
const CHANGE_MS = 2 * DAY_MS;
const BACK_MS = 14 * DAY_MS;

export type AskedAddress =
	{ ok: true } | { ok: false; code: 'same' | 'wrong' | 'too-many' | 'too-many-links' | 'busy' | 'gone' };

/** Mails a link to the new address. What is answered is the same whether anybody has that address or not. */
export async function askNewAddress(
	app: Transacting,
	own: Own,
	ask: { email: string; current: string; client: string }
): Promise<AskedAddress> {
	const email = normaliseEmail(ask.email);
	const shown = await showCurrent(app, own, ask.current);
	if (shown !== 'yes') return { ok: false, code: shown };
	if ((await accountById(app.db, own.accountId))?.email === email) return { ok: false, code: 'same' };
	if (!(await mayAsk(app, email, ask.client))) return { ok: false, code: 'too-many-links' };
	await transact(app, { id: own.accountId }, (work) => queueChange(work, own.accountId, email, false));
	return { ok: true };
}

/** The same for a member whom mails do not reach. Who works at the Desk changes their address by themselves. */
export async function askNewAddressFor(
	app: Transacting,
	actor: Staff,
	memberId: string,
	ask: { email: string; client: string }
): Promise<AskedAddress> {
	need(actor, 'members');
	const email = normaliseEmail(ask.email);
	const account = await accountById(app.db, memberId);
	if (!account?.email || account.role !== 'member') return { ok: false, code: 'gone' };
	if (account.email === email) return { ok: false, code: 'same' };
	if (!(await mayAsk(app, email, ask.client))) return { ok: false, code: 'too-many-links' };
	await transact(app, actor, (work) => queueChange(work, memberId, email, true));
	return { ok: true };
}

async function queueChange(work: Work, memberId: string, email: string, isByStaff: boolean): Promise<void> {
	await work.note({
		action: 'asked-new-address',
		subject: { kind: 'account', id: memberId },
		memberId,
		after: { email }
	});
	await work.queue('mail', { occasion: 'new-address', memberId, email, isByStaff }, { memberId });
}

/** By whom another address was asked for, or when the change was made that a link puts back. */
export type AddressChange = { isByStaff: boolean } | { undoes: number };

/** Makes the link, while its mail is written. */
export async function makeAddressLink(
	app: Using<'clock' | 'db' | 'settings'>,
	accountId: string,
	email: string,
	change: AddressChange
): Promise<string> {
	const token = newToken();
	const createdAt = app.clock.wall();
	const expiresAt = createdAt + ('undoes' in change ? BACK_MS : CHANGE_MS);
	await app.db
		.insert(addressChanges)
		.values({ tokenHash: hashOf(token), accountId, email, ...change, createdAt, expiresAt });
	return `${app.settings.origin}/account/address/${token}`;
}

export type AddressLink =
	/** `endsOthers`: pressing it signs everybody out, and ends the password. */
	| { kind: 'good'; email: string; isBack: boolean; endsOthers: boolean }
	/** It is pressed where the account is signed in that asked for it. */
	| { kind: 'elsewhere'; email: string }
	| { kind: 'spent' }
	| { kind: 'unknown' };

export async function lookAtAddressLink(
	app: Using<'clock' | 'db'>,
	token: string,
	sessionToken: string | null
): Promise<AddressLink> {
	const [link] = await app.db
		.select()
		.from(addressChanges)
		.where(eq(addressChanges.tokenHash, hashOf(token)));
	const account = link && (await accountById(app.db, link.accountId));
	if (!link || !account?.email) return { kind: 'unknown' };
	if (link.usedAt !== null || app.clock.wall() >= link.expiresAt) return { kind: 'spent' };
	const isBack = link.undoes !== null;
	const isOwn = await isSignedIn(app, account.id, sessionToken);
	if (!isBack && !link.isByStaff && !isOwn) return { kind: 'elsewhere', email: link.email };
	return { kind: 'good', email: link.email, isBack, endsOthers: isBack || !isOwn };
}

export type PressedAddress =
	| { ok: true; email: string; isBack: boolean }
	/** `taken`: somebody has an account with the address by now. `elsewhere`: the account is not signed in here. */
	| { ok: false; code: 'spent' | 'taken' | 'elsewhere' };

/**
 * Uses the link up: its address is the account's from now on, and proved. Links in mails to the old one sign nobody in any
 * more. What the account itself asked for is pressed where it is signed in, or whoever has the mailbox would be led into an
 * account that somebody else has made. Where the old address is put back, or the account is not signed in here, everybody is
 * signed out, and the password ends; a code goes that was set since the change that is put back.
 */
export async function pressAddressLink(
	app: Transacting,
	token: string,
	sessionToken: string | null
): Promise<PressedAddress> {
	try {
		return await transact(app, null, async (work) => {
			const [link] = await work.tx
				.select()
				.from(addressChanges)
				.where(eq(addressChanges.tokenHash, hashOf(token)));
			if (!link) return { ok: false, code: 'spent' };
			await lockAccount(work.tx, link.accountId);
			const isOwn = await isSignedIn({ ...app, db: work.tx }, link.accountId, sessionToken);
			if (link.undoes === null && !link.isByStaff && !isOwn) return { ok: false, code: 'elsewhere' };
			return press(work, link, isOwn);
		});
	} catch (error) {
		if (errorNumber(error) === DUPLICATE_KEY) return { ok: false, code: 'taken' };
		throw error;
	}
}

/** Behind the account's lock. */
async function press(
	work: Work,
	link: typeof addressChanges.$inferSelect,
	isOwn: boolean
): Promise<PressedAddress> {
	const { tx, now, wall } = work;
	const isThis = eq(addressChanges.tokenHash, link.tokenHash);
	const account = await accountById(tx, link.accountId);
	if (!account?.email) return { ok: false, code: 'spent' };
	const [used] = await tx
		.update(addressChanges)
		.set({ usedAt: wall })
		.where(and(isThis, isNull(addressChanges.usedAt), gt(addressChanges.expiresAt, wall)));
	if (used.affectedRows !== 1) return { ok: false, code: 'spent' };
	const { id, email: old } = account;
	const isBack = link.undoes !== null;
	await tx
		.update(accounts)
		.set({
			email: link.email,
			provedAt: account.provedAt ?? now,
			claimedAt: account.claimedAt ?? now,
			claimedByOrderId: null
		})
		.where(eq(accounts.id, id));
	await clearAddress(tx, link.email, now);
	// What was sent to the old address signs in no more; nor does another change that was asked for count.
	await tx
		.update(signInLinks)
		.set({ usedAt: wall })
		.where(and(eq(signInLinks.accountId, id), isNull(signInLinks.usedAt)));
	await endAskedAddresses(work, id);
	if (isBack) await endBacks(work, id);
	// Gifts that wait for them find them at the new address.
	if (account.provedAt !== null)
		await tx
			.update(gifts)
			.set({ email: link.email })
			.where(and(eq(gifts.email, old), isNull(gifts.openedAt)));
	if (link.undoes !== null) await endFactorSince(work, id, link.undoes);
	if (isBack || !isOwn) await endWaysIn(work, id);
	await work.note({
		action: isBack ? 'put-address-back' : 'changed-address',
		subject: { kind: 'account', id },
		memberId: id,
		before: { email: old },
		after: { email: link.email }
	});
	// An address that nobody has proved may have been mistyped: whoever has it is handed no way into the account.
	if (!isBack && old !== link.email && account.provedAt !== null)
		await work.queue('mail', { occasion: 'address-changed', memberId: id, old, at: wall }, { memberId: id });
	work.standingChanged(id);
	return { ok: true, email: link.email, isBack };
}

/** Changes that were asked for and not proved yet: whoever asked for a member's asks for nobody's at the Desk. */
export async function endAskedAddresses({ tx, wall }: Work, accountId: string): Promise<void> {
	await tx
		.update(addressChanges)
		.set({ usedAt: wall })
		.where(
			and(
				eq(addressChanges.accountId, accountId),
				isNull(addressChanges.usedAt),
				isNull(addressChanges.undoes)
			)
		);
}

/** Links that would put back what was put back already. */
async function endBacks({ tx, wall }: Work, accountId: string): Promise<void> {
	await tx
		.update(addressChanges)
		.set({ usedAt: wall })
		.where(and(eq(addressChanges.accountId, accountId), isNull(addressChanges.usedAt)));
}

async function endWaysIn(work: Work, accountId: string): Promise<void> {
	await work.tx.update(accounts).set({ passwordHash: null }).where(eq(accounts.id, accountId));
	await endSessions(work, { accountId, sessionToken: null });
}

/** Whoever has changed the address may have set it, too. */
async function endFactorSince({ tx }: Work, accountId: string, since: number): Promise<void> {
	const [factor] = await tx
		.delete(secondFactors)
		.where(and(eq(secondFactors.accountId, accountId), gte(secondFactors.since, since)));
	if (factor.affectedRows > 0) await tx.delete(recoveryCodes).where(eq(recoveryCodes.accountId, accountId));
}

async function isSignedIn(
	{ clock, db }: Using<'clock'> & { db: Handle },
	accountId: string,
	sessionToken: string | null
): Promise<boolean> {
	if (sessionToken === null) return false;
	const [own] = await db
		.select({ id: sessions.accountId })
		.from(sessions)
		.where(
			and(
				eq(sessions.tokenHash, hashOf(sessionToken)),
				eq(sessions.accountId, accountId),
				gt(sessions.expiresAt, clock.wall())
			)
		);
	return own !== undefined;
}
