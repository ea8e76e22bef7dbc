/** What members change of their own account: name, password, and the devices that are signed in. */
import { and, eq, gt, ne, sql } from 'drizzle-orm';
import type { LanguageCode } from '$words/languages';
import type { Using } from '../../app';
import { accountById, lockAccount, type Account } from '../../db/queries/members';
import { accounts, halfSignIns, sessions } from '../../db/schema/people';
import { allows, forgetTries } from '../../people/rate-limit';
import { hashOf } from '../../people/sessions';
import { transact, type Work, type Transacting } from '../../transact';
import { hashPassword, isPassword } from './passwords';

/** For so long after a mailed link was pressed, its device need not know the password that was. */
const LINK_COUNTS_MS = 3_600_000;

/** Whose account, and the cookie of the device that asks. */
export interface Own {
	accountId: string;
	sessionToken: string;
}

export interface OwnAccount {
	name: string;
	email: string;
	hasPassword: boolean;
	/** Whether this device has to show the password that is there before it sets another. */
	asksCurrent: boolean;
	otherDevices: number;
	/** Whether they are reminded of what they began to buy. */
	wantsReminders: boolean;
	/** `null`: the site's. */
	language: LanguageCode | null;
}

export async function ownAccount(app: Using<'clock' | 'db'>, own: Own): Promise<OwnAccount | null> {
	const account = await accountById(app.db, own.accountId);
	if (!account?.email) return null;
	const all = await app.db
		.select({ tokenHash: sessions.tokenHash })
		.from(sessions)
		.where(and(eq(sessions.accountId, account.id), gt(sessions.expiresAt, app.clock.wall())));
	const mine = hashOf(own.sessionToken);
	return {
		name: account.name,
		email: account.email,
		hasPassword: account.passwordHash !== null,
		asksCurrent: await asksCurrent(app, own, account),
		otherDevices: all.filter(({ tokenHash }) => tokenHash !== mine).length,
		wantsReminders: account.remindersOffAt === null,
		language: account.language
	};
}

export async function changeName(app: Transacting, { accountId }: Own, name: string): Promise<void> {
	await transact(app, { id: accountId }, async (work) => {
		await lockAccount(work.tx, accountId);
		const before = await accountById(work.tx, accountId);
		if (!before || before.name === name) return;
		await work.tx
			.update(accounts)
			.set({ name, isNameTyped: before.provedAt === null })
			.where(eq(accounts.id, accountId));
		await work.note({
			action: 'changed-name',
			subject: { kind: 'account', id: accountId },
			memberId: accountId
		});
		work.standingChanged(accountId);
	});
}

/** In which pages and mails speak to them from now on. @param language `null`: the site's, whatever it is */
export async function changeLanguage(
	app: Transacting,
	{ accountId }: Own,
	language: LanguageCode | null
): Promise<void> {
	await transact(app, { id: accountId }, async (work) => {
		await lockAccount(work.tx, accountId);
		await work.tx.update(accounts).set({ language }).where(eq(accounts.id, accountId));
		work.standingChanged(accountId);
	});
}

export type PasswordChanged =
	| { kind: 'saved' }
	/** `changed`: another device has set one meanwhile. */
	| { kind: 'refused'; code: 'wrong' | 'too-many' | 'busy' | 'changed' };

/** Sets a password, and signs out every other device. `current`: what was typed as the one that is there. */
export async function changePassword(
	app: Transacting,
	own: Own,
	ask: { current: string; wanted: string }
): Promise<PasswordChanged> {
	const account = await accountById(app.db, own.accountId);
	const stored = account?.passwordHash ?? null;
	const shown = await showCurrent(app, own, ask.current);
	if (shown !== 'yes') return { kind: 'refused', code: shown };
	const hashed = await hashPassword(ask.wanted);
	if (!hashed.ok) return { kind: 'refused', code: 'busy' };
	return transact<PasswordChanged>(app, { id: own.accountId }, async (work) => {
		await lockAccount(work.tx, own.accountId);
		const still = await accountById(work.tx, own.accountId);
		if (!still || still.passwordHash !== stored) return { kind: 'refused', code: 'changed' };
		await work.tx.update(accounts).set({ passwordHash: hashed.hash }).where(eq(accounts.id, still.id));
		await endSessions(work, own);
		await work.note({
			action: 'changed-password',
			subject: { kind: 'account', id: still.id },
			memberId: still.id
		});
		return { kind: 'saved' };
	});
}

export async function asksCurrent(
	app: Using<'clock' | 'db'>,
	own: Own,
	{ passwordHash }: Account
): Promise<boolean> {
	return passwordHash !== null && !(await cameByLink(app, own));
}

/** Whether this device may change how one signs in: by the password that is there, unless it has just come by a mailed link. */
export async function showCurrent(
	app: Using<'clock' | 'db'>,
	own: Own,
	current: string
): Promise<'yes' | 'wrong' | 'too-many' | 'busy'> {
	const account = await accountById(app.db, own.accountId);
	if (!account || !(await asksCurrent(app, own, account))) return 'yes';
	const tries = `own ${own.accountId}`;
	if (!(await allows(app, 'signInByPair', tries))) return 'too-many';
	const matches = await isPassword(account.passwordHash, current);
	if (matches === 'busy') return 'busy';
	if (matches === 'no') return 'wrong';
	await forgetTries(app, 'signInByPair', tries);
	return 'yes';
}

/** Signs out every device but the one that asks. */
export async function signOutElsewhere(app: Transacting, own: Own): Promise<void> {
	await transact(app, { id: own.accountId }, async (work) => {
		await lockAccount(work.tx, own.accountId);
		await endSessions(work, own);
		await work.note({
			action: 'signed-out-elsewhere',
			subject: { kind: 'account', id: own.accountId },
			memberId: own.accountId
		});
	});
}

/** Ends every session of an account but that of a device, and what was begun without a code yet. */
export async function endSessions(
	{ tx, standingChanged }: Work,
	{ accountId, sessionToken }: { accountId: string; sessionToken: string | null }
): Promise<void> {
	const others = sessionToken === null ? undefined : ne(sessions.tokenHash, hashOf(sessionToken));
	await tx.delete(sessions).where(and(eq(sessions.accountId, accountId), others));
	await tx.delete(halfSignIns).where(eq(halfSignIns.accountId, accountId));
	await tx
		.update(accounts)
		.set({ epoch: sql`${accounts.epoch} + 1` })
		.where(eq(accounts.id, accountId));
	standingChanged(accountId);
}

async function cameByLink(
	{ db, clock }: Using<'clock' | 'db'>,
	{ accountId, sessionToken }: Own
): Promise<boolean> {
	const [session] = await db
		.select({ begunBy: sessions.begunBy, createdAt: sessions.createdAt })
		.from(sessions)
		.where(and(eq(sessions.tokenHash, hashOf(sessionToken)), eq(sessions.accountId, accountId)));
	return session?.begunBy === 'link' && clock.wall() < session.createdAt + LINK_COUNTS_MS;
}
