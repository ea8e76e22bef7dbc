/**
 * Mailed links. Opening one changes nothing, so that mail scanners use nothing up; a press on its page signs the device
 * in, once.
 */
import { and, eq, gt, isNull } from 'drizzle-orm';
import type { Using } from '../../app';
import { accountById, lockAccount } from '../../db/queries/members';
import { signInLinks } from '../../db/schema/people';
import { allows } from '../../people/rate-limit';
import { beginSession, hashOf, newToken, type NewSession } from '../../people/sessions';
import { transact, type Transacting } from '../../transact';
import { hasForeignThings, prove, type Device } from './proving';
import { normaliseEmail } from './sign-in';

export const LINK_DAYS = 14;
const DAY_MS = 86_400_000;

/** Makes a link, while its mail is written; `next` is the path that it lands on. */
export async function makeLink(
	app: Using<'clock' | 'db' | 'settings'>,
	accountId: string,
	next: string
): Promise<string> {
	const token = newToken();
	const wallNow = app.clock.wall();
	await app.db.insert(signInLinks).values({
		tokenHash: hashOf(token),
		accountId,
		next,
		createdAt: wallNow,
		expiresAt: wallNow + LINK_DAYS * DAY_MS
	});
	return `${app.settings.origin}/enter/${token}`;
}

/** Mails a link if the address has an account. What is done here is the same for every address, and so is its time. */
export async function askForLink(
	app: Transacting,
	ask: { email: string; next: string; client: string }
): Promise<{ ok: true } | { ok: false; code: 'too-many' }> {
	const email = normaliseEmail(ask.email);
	const mayAsk = (await allows(app, 'linkByClient', ask.client)) && (await allows(app, 'linkByEmail', email));
	if (!mayAsk) return { ok: false, code: 'too-many' };
	await transact(app, null, (work) => work.queue('sign-in-mail', { email, next: ask.next }));
	return { ok: true };
}

export type LinkState =
	/** `asks`: whether what other devices set before shall end. */
	| { kind: 'good'; email: string; next: string; asks: boolean }
	/** Used or out of date; another can be mailed to the same address. */
	| { kind: 'spent'; email: string; next: string }
	| { kind: 'unknown' };

export async function lookAtLink(
	app: Using<'clock' | 'db'>,
	token: string,
	device: Device
): Promise<LinkState> {
	const [link] = await app.db
		.select()
		.from(signInLinks)
		.where(eq(signInLinks.tokenHash, hashOf(token)));
	const account = link && (await accountById(app.db, link.accountId));
	if (!link || !account?.email) return { kind: 'unknown' };
	const { email } = account;
	const { next } = link;
	if (link.usedAt !== null || app.clock.wall() >= link.expiresAt) return { kind: 'spent', email, next };
	const asks = await hasForeignThings(app.db, account, device);
	return { kind: 'good', email, next, asks };
}

/** Uses the link up, proves the mailbox and signs in. */
export async function pressLink(
	app: Transacting,
	token: string,
	device: Device,
	endsForeign: boolean
): Promise<{ session: NewSession; next: string; accountId: string } | null> {
	const wallNow = app.clock.wall();
	return transact(app, null, async (work) => {
		const isThis = eq(signInLinks.tokenHash, hashOf(token));
		const [link] = await work.tx.select().from(signInLinks).where(isThis);
		if (!link) return null;
		await lockAccount(work.tx, link.accountId);
		const account = await accountById(work.tx, link.accountId);
		if (!account) return null;
		const [used] = await work.tx
			.update(signInLinks)
			.set({ usedAt: wallNow })
			.where(and(isThis, isNull(signInLinks.usedAt), gt(signInLinks.expiresAt, wallNow)));
		if (used.affectedRows !== 1) return null;
		await prove(work, account, device, endsForeign);
		return {
			session: await beginSession(work, account.id, 'link'),
			next: link.next,
			accountId: account.id
		};
	});
}

/** A new link in place of a spent one, to the address that the old one went to. */
export async function mailAgain(app: Transacting, token: string, client: string): Promise<{ ok: boolean }> {
	const state = await lookAtLink(app, token, { orderToken: null, sessionToken: null });
	if (state.kind === 'unknown') return { ok: false };
	return askForLink(app, { email: state.email, next: state.next, client });
}
