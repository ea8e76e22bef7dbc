/** Whoever has shown the password or the mailbox is in, or is asked for a code besides. */
import { eq } from 'drizzle-orm';
import type { Using } from '../../app';
import { accountById, lockAccount } from '../../db/queries/members';
import { factorOf } from '../../db/queries/second-factors';
import { halfSignIns, type AccountRole, type SessionBegin } from '../../db/schema/people';
import { beginSession, hashOf, newToken, type NewSession } from '../../people/sessions';
import { transact, type Transacting, type Work } from '../../transact';
import { maySpend, spendCode, tell } from './second-factor';

/** So long may it take to find the phone. */
const HALF_SECONDS = 15 * 60;

/** `asks`: they are not signed in; the token is good for giving the code, and for nothing else. */
export type Admitted = { kind: 'in'; session: NewSession } | { kind: 'asks'; half: NewSession };

/** The account is locked. */
export async function admit(work: Work, accountId: string, begunBy: SessionBegin): Promise<Admitted> {
	if (!(await factorOf(work.tx, accountId)))
		return { kind: 'in', session: await beginSession(work, accountId, begunBy) };
	const token = newToken();
	await work.tx.insert(halfSignIns).values({
		tokenHash: hashOf(token),
		accountId,
		begunBy,
		expiresAt: work.wall + HALF_SECONDS * 1000
	});
	return { kind: 'asks', half: { token, maxAgeSeconds: HALF_SECONDS } };
}

/** Whether a code is waited for from this device. */
export async function isHalfIn(app: Using<'clock' | 'db'>, token: string): Promise<boolean> {
	return (await halfBy(app, token)) !== null;
}

export type SecondStep =
	| { ok: true; session: NewSession; accountId: string; role: AccountRole; begunBy: SessionBegin }
	/** `gone`: it took too long, or the account was changed meanwhile. */
	| { ok: false; code: 'gone' | 'wrong' | 'too-many' };

/** Takes the code from the app, or a recovery code, and signs in. */
export async function finishSignIn(
	app: Transacting & Using<'keys'>,
	token: string,
	typed: string,
	client: string
): Promise<SecondStep> {
	const half = await halfBy(app, token);
	if (!half) return { ok: false, code: 'gone' };
	const { accountId } = half;
	const may = await maySpend(app, accountId, typed, client);
	if (!may.ok) return may;
	const done = await transact<SecondStep>(app, { id: accountId }, async (work) => {
		await lockAccount(work.tx, accountId);
		const account = await accountById(work.tx, accountId);
		const [still] = await work.tx.select().from(halfSignIns).where(eq(halfSignIns.tokenHash, half.tokenHash));
		if (!account || !still) return { ok: false, code: 'gone' };
		// Taken off meanwhile: what was shown before is enough.
		const isAsked = (await factorOf(work.tx, accountId)) !== null;
		if (isAsked && !(await spendCode(work, app.keys, accountId, may.code)))
			return { ok: false, code: 'wrong' };
		if (isAsked && may.code.kind === 'recovery') await tell(work, accountId, 'recovery');
		await work.tx.delete(halfSignIns).where(eq(halfSignIns.tokenHash, half.tokenHash));
		const session = await beginSession(work, accountId, half.begunBy);
		return { ok: true, session, accountId, role: account.role, begunBy: half.begunBy };
	});
	if (done.ok) await may.forget();
	return done;
}

async function halfBy({ db, clock }: Using<'clock' | 'db'>, token: string) {
	const [half] = await db
		.select()
		.from(halfSignIns)
		.where(eq(halfSignIns.tokenHash, hashOf(token)));
	return half && clock.wall() < half.expiresAt ? half : null;
}
