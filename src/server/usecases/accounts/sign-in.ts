import { countedAs } from '$core/media/network';
import { accountByEmail, accountById, lockAccount } from '../../db/queries/members';
import { allows, forgetTries, takeTryBack } from '../../people/rate-limit';
import { endSession } from '../../people/sessions';
import type { AccountRole } from '../../db/schema/people';
import { transact, type Transacting } from '../../transact';
import { admit, type Admitted } from './admit';
import { isPassword, MAX_PASSWORD_LENGTH } from './passwords';

/** RFC 5321 §4.5.3.1.3, without the brackets. */
export const MAX_EMAIL_LENGTH = 254;

/** A device that has signed in to an account before. */
export interface KnownDevice {
	id: string;
	accountId: string;
}

export type SignedIn =
	| { ok: true; admitted: Admitted; role: AccountRole; accountId: string }
	| { ok: false; code: 'wrong' | 'too-many' | 'busy' };

/**
 * The answer and the time it takes are the same for a wrong password and for an address that nobody has. Wrong passwords are
 * counted by address and client together, and for an address from everywhere; a device that has signed in to it before has
 * a count of its own, so that nobody can lock an owner out.
 */
export async function signIn(
	app: Transacting,
	ask: { email: string; password: string; client: string; knownDevice?: KnownDevice | null }
): Promise<SignedIn> {
	const email = normaliseEmail(ask.email);
	if (email.length > MAX_EMAIL_LENGTH || ask.password.length > MAX_PASSWORD_LENGTH)
		return { ok: false, code: 'wrong' };
	const account = await accountByEmail(app.db, email);
	const isKnown = ask.knownDevice?.accountId !== undefined && ask.knownDevice.accountId === account?.id;
	const pair = isKnown ? `known ${ask.knownDevice?.id}` : `${countedAs(ask.client)} ${email}`;
	const mayTry =
		(await allows(app, 'signInByClient', ask.client)) &&
		(await allows(app, 'signInByPair', pair)) &&
		(isKnown || (await allows(app, 'signInByEmail', email)));
	if (!mayTry) return { ok: false, code: 'too-many' };
	const matches = await isPassword(account?.passwordHash ?? null, ask.password);
	if (matches === 'busy') return { ok: false, code: 'busy' };
	if (matches === 'no' || !account?.claimedAt) return { ok: false, code: 'wrong' };
	await forgetTries(app, 'signInByPair', pair);
	if (!isKnown) await takeTryBack(app, 'signInByEmail', email);
	const passwordHash = account.passwordHash;
	const admitted = await transact(app, { id: account.id }, async (work) => {
		await lockAccount(work.tx, account.id);
		// The password may have ended while it was looked at.
		const still = await accountById(work.tx, account.id);
		return still?.passwordHash === passwordHash ? admit(work, account.id, 'password') : null;
	});
	if (!admitted) return { ok: false, code: 'wrong' };
	return { ok: true, admitted, role: account.role, accountId: account.id };
}

export async function signOut(app: Transacting, token: string, accountId: string): Promise<void> {
	await transact(app, { id: accountId }, (work) => endSession(work, token, accountId));
}

/** Addresses are compared trimmed and in lower case, as people type them. */
export function normaliseEmail(email: string): string {
	return email.trim().toLowerCase().normalize('NFC');
}
