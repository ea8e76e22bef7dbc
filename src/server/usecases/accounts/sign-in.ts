import type { App } from '../../app';
import { accountByEmail } from '../../db/queries/members';
import { allows, forgetTries } from '../../http/rate-limit';
import { beginSession, endSession, type NewSession } from '../../http/sessions';
import { transact } from '../../transact';
import { isPassword } from './passwords';

export type SignedIn =
	{ ok: true; session: NewSession; role: 'member' | 'owner' } | { ok: false; code: 'wrong' | 'too-many' };

/** The answer and the time it takes are the same for a wrong password and for an address that nobody has. */
export async function signIn(
	app: App,
	ask: { email: string; password: string; client: string }
): Promise<SignedIn> {
	const email = normaliseEmail(ask.email);
	const mayTry =
		(await allows(app, 'signInByClient', ask.client)) && (await allows(app, 'signInByEmail', email));
	if (!mayTry) return { ok: false, code: 'too-many' };
	const account = await accountByEmail(app.db, email);
	if (!(await isPassword(account?.passwordHash ?? null, ask.password)) || !account?.claimedAt)
		return { ok: false, code: 'wrong' };
	await forgetTries(app, 'signInByEmail', email);
	const session = await transact(app, { id: account.id }, (work) => beginSession(app, work, account.id));
	return { ok: true, session, role: account.role };
}

export async function signOut(app: App, token: string, accountId: string): Promise<void> {
	await transact(app, { id: accountId }, (work) => endSession(work, token, accountId));
}

/** Addresses are compared trimmed and in lower case, as people type them. */
export function normaliseEmail(email: string): string {
	return email.trim().toLowerCase().normalize('NFC');
}
