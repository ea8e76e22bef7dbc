/**
 * Mailed links. Opening one changes nothing, so that mail scanners use nothing up; a press on its page signs the device
 * in, once.
 */
import { and, eq, gt, isNull } from 'drizzle-orm';
import type { App } from '../../app';
import { accountByEmail, accountById, type Account } from '../../db/queries/members';
import { accounts, signInLinks } from '../../db/schema/people';
import { allows } from '../../http/rate-limit';
import { beginSession, hashOf, newToken, type NewSession } from '../../http/sessions';
import { signInMail } from '../../mail/messages';
import { transact, type Work } from '../../transact';
import { normaliseEmail } from './sign-in';

export const LINK_DAYS = 14;
const DAY_MS = 86_400_000;

/** Makes a link to mail; `next` is the path that it lands on. */
export async function makeLink(app: App, { tx }: Work, accountId: string, next: string): Promise<string> {
	const token = newToken();
	const wallNow = app.clock.wall();
	await tx.insert(signInLinks).values({
		tokenHash: hashOf(token),
		accountId,
		next,
		createdAt: wallNow,
		expiresAt: wallNow + LINK_DAYS * DAY_MS
	});
	return `${app.settings.origin}/enter/${token}`;
}

/** Mails a link if the address has an account; the caller says the same in both cases. */
export async function askForLink(
	app: App,
	ask: { email: string; next: string; client: string }
): Promise<{ ok: true } | { ok: false; code: 'too-many' }> {
	const email = normaliseEmail(ask.email);
	const mayAsk = (await allows(app, 'linkByClient', ask.client)) && (await allows(app, 'linkByEmail', email));
	if (!mayAsk) return { ok: false, code: 'too-many' };
	const account = await accountByEmail(app.db, email);
	if (account?.email) await mailLink(app, account, ask.next);
	return { ok: true };
}

async function mailLink(app: App, account: Account, next: string): Promise<void> {
	const site = await app.site();
	await transact(app, null, async (work) => {
		const link = await makeLink(app, work, account.id, next);
		await work.queue({
			queue: 'mail',
			kind: 'mail',
			payload: { ...signInMail(site, account.email ?? '', link) }
		});
	});
}

export type LinkState =
	| { kind: 'good'; email: string; next: string }
	/** Used or out of date; another can be mailed to the same address. */
	| { kind: 'spent'; email: string; next: string }
	| { kind: 'unknown' };

export async function lookAtLink(app: App, token: string): Promise<LinkState> {
	const [link] = await app.db
		.select()
		.from(signInLinks)
		.where(eq(signInLinks.tokenHash, hashOf(token)));
	const account = link && (await accountById(app.db, link.accountId));
	if (!link || !account?.email) return { kind: 'unknown' };
	const isGood = link.usedAt === null && app.clock.wall() < link.expiresAt;
	return { kind: isGood ? 'good' : 'spent', email: account.email, next: link.next };
}

/** Uses the link up and signs in. */
export async function pressLink(
	app: App,
	token: string
): Promise<{ session: NewSession; next: string } | null> {
	const wallNow = app.clock.wall();
	return transact(app, null, async (work) => {
		const isThis = eq(signInLinks.tokenHash, hashOf(token));
		const [link] = await work.tx.select().from(signInLinks).where(isThis);
		const account = link && (await accountById(work.tx, link.accountId));
		if (!link || !account) return null;
		const [used] = await work.tx
			.update(signInLinks)
			.set({ usedAt: wallNow })
			.where(and(isThis, isNull(signInLinks.usedAt), gt(signInLinks.expiresAt, wallNow)));
		if (used.affectedRows !== 1) return null;
		await work.tx
			.update(accounts)
			.set({ claimedAt: work.now })
			.where(and(eq(accounts.id, account.id), isNull(accounts.claimedAt)));
		return { session: await beginSession(app, work, account.id), next: link.next };
	});
}

/** A new link in place of a spent one, to the address that the old one went to. */
export async function mailAgain(app: App, token: string, client: string): Promise<{ ok: boolean }> {
	const state = await lookAtLink(app, token);
	if (state.kind === 'unknown') return { ok: false };
	return askForLink(app, { email: state.email, next: state.next, client });
}
