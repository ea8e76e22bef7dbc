/** A code from an app on the phone, asked for besides the password or the mailed link: put on, taken off, spent. */
import type { Using } from '../../app';
import { accountById, lockAccount } from '../../db/queries/members';
import {
	factorOf,
	forgetFactor,
	keepRecoveryCodes,
	recoveryCodesLeft,
	takeRecoveryCode,
	takeStep
} from '../../db/queries/second-factors';
import { permissionsOf } from '../../db/queries/staff';
import { secondFactors } from '../../db/schema/people';
import type { Keys } from '../../ports/keys';
import { holdsAll, need, type Staff } from '../../people/need';
import { allows, forgetTries } from '../../people/rate-limit';
import {
	appAddress,
	appPicture,
	newFactorSecret,
	newRecoveryCode,
	readTypedCode,
	RECOVERY_CODES,
	stepOf,
	type TypedCode
} from '../../people/second-factor';
import { hashOf } from '../../people/sessions';
import { transact, type Transacting, type Work } from '../../transact';
import { DONE, notDone, type Done } from '../../done';
import { asksCurrent, endSessions, showCurrent, type Own } from './own-account';

/** What an offered secret is signed for, and how long it may be taken. */
const OFFER = 'second-factor-offer';
const OFFER_MS = 30 * 60_000;

const sealedFor = (accountId: string) => `second-factor ${accountId}`;

export interface OwnFactor {
	/** By the wall clock; `null`: no code is asked for. */
	since: number | null;
	recoveryCodes: number;
	/** The mailbox is not proved: whoever only typed or paid on an address cannot shut its owner out. */
	isUnproved: boolean;
	asksCurrent: boolean;
}

export async function ownFactor(app: Using<'clock' | 'db'>, own: Own): Promise<OwnFactor | null> {
	const account = await accountById(app.db, own.accountId);
	if (!account) return null;
	const factor = await factorOf(app.db, account.id);
	return {
		since: factor?.since ?? null,
		recoveryCodes: factor ? await recoveryCodesLeft(app.db, account.id) : 0,
		isUnproved: account.provedAt === null,
		asksCurrent: await asksCurrent(app, own, account)
	};
}

/** A secret to put into an app, which nothing keeps until a code made of it is shown. */
export interface Offer {
	secret: string;
	address: string;
	/** The address, for an app to read. */
	picture: string;
	/** To be sent back with the code. */
	signed: string;
}

/** @param before an offer that was made already, and whose code was mistyped */
export async function offerFactor(
	app: Using<'clock' | 'db' | 'keys' | 'site'>,
	{ accountId }: Own,
	before: string | null = null
): Promise<Offer | null> {
	const account = await accountById(app.db, accountId);
	if (!account?.email) return null;
	const known = before === null ? null : secretOf(app, accountId, before);
	const secret = known ?? newFactorSecret();
	const { siteName: site } = await app.site();
	const address = appAddress(secret, { site, email: account.email });
	return {
		...{ secret, address, picture: await appPicture(address) },
		signed: known !== null && before !== null ? before : signedOffer(app, accountId, secret)
	};
}

export type TurnedOn =
	/** `codes`: shown this once. */
	| { kind: 'on'; codes: string[] }
	| {
			kind: 'refused';
			code: 'wrong-code' | 'offer-over' | 'is-on' | 'unproved' | 'wrong' | 'too-many' | 'busy';
	  };

/** From now on a code is asked for; every other device is signed out. */
export async function turnFactorOn(
	app: Transacting & Using<'keys'>,
	own: Own,
	ask: { offer: string; code: string; current: string }
): Promise<TurnedOn> {
	const refused = (code: Extract<TurnedOn, { kind: 'refused' }>['code']) =>
		({ kind: 'refused', code }) as const;
	const secret = secretOf(app, own.accountId, ask.offer);
	if (secret === null) return refused('offer-over');
	const shown = await showCurrent(app, own, ask.current);
	if (shown !== 'yes') return refused(shown);
	const typed = readTypedCode(ask.code);
	const step = typed?.kind === 'app' ? stepOf(secret, typed.code, app.clock.wall(), 0) : null;
	if (step === null) return refused('wrong-code');
	return transact<TurnedOn>(app, { id: own.accountId }, async (work) => {
		const { accountId } = own;
		await lockAccount(work.tx, accountId);
		const account = await accountById(work.tx, accountId);
		if (!account || account.provedAt === null) return refused('unproved');
		if (await factorOf(work.tx, accountId)) return refused('is-on');
		const { keyId, wrapped: sealed } = app.keys.seal(sealedFor(accountId), secret);
		await work.tx
			.insert(secondFactors)
			.values({ accountId, keyId, sealed, since: work.wall, lastStep: step });
		const codes = await freshCodes(work, accountId);
		await endSessions(work, own);
		await tell(work, accountId, 'on');
		return { kind: 'on', codes };
	});
}

export type SpentOn<T> = T | { kind: 'refused'; code: 'wrong-code' | 'too-many' | 'is-off' };

/** No code is asked for any more. Whoever takes it off shows one. */
export function turnFactorOff(
	app: Transacting & Using<'keys'>,
	{ accountId }: Own,
	ask: { code: string; client: string }
): Promise<SpentOn<{ kind: 'off' }>> {
	return spending(app, accountId, ask, async (work) => {
		await forgetFactor(work.tx, accountId);
		await tell(work, accountId, 'off');
		return { kind: 'off' };
	});
}

/** New recovery codes; the ones that there were do nothing any more. */
export function renewRecoveryCodes(
	app: Transacting & Using<'keys'>,
	{ accountId }: Own,
	ask: { code: string; client: string }
): Promise<SpentOn<{ kind: 'codes'; codes: string[] }>> {
	return spending(app, accountId, ask, async (work) => {
		await work.note({
			action: 'renewed-recovery-codes',
			subject: { kind: 'account', id: accountId },
			memberId: accountId
		});
		return { kind: 'codes', codes: await freshCodes(work, accountId) };
	});
}

/** For somebody who has lost the phone and the codes. They are signed out everywhere, and told. */
export async function takeFactorOff(
	app: Transacting,
	actor: Staff,
	memberId: string
): Promise<Done<'unknown' | 'more-than-own'>> {
	need(actor, 'members');
	return transact<Done<'unknown' | 'more-than-own'>>(app, actor, async (work) => {
		await lockAccount(work.tx, memberId);
		const account = await accountById(work.tx, memberId);
		if (!account) return notDone('unknown');
		// Whoever keeps an account of the staff safe may at least as much as it.
		if (!holdsAll(actor, await permissionsOf(work.tx, account))) return notDone('more-than-own');
		if (!(await forgetFactor(work.tx, memberId))) return notDone('unknown');
		await endSessions(work, { accountId: memberId, sessionToken: null });
		await tell(work, memberId, 'off');
		return DONE;
	});
}

/** Counts one try at a code, and says of which kind it is. `forget`: whoever had the right one was no guesser. */
export async function maySpend(
	app: Using<'clock' | 'db'>,
	accountId: string,
	typed: string,
	client: string
): Promise<
	{ ok: true; code: TypedCode; forget: () => Promise<void> } | { ok: false; code: 'wrong' | 'too-many' }
> {
	const code = readTypedCode(typed);
	if (!code) return { ok: false, code: 'wrong' };
	const mayTry =
		(await allows(app, 'secondByClient', client)) &&
		(code.kind === 'recovery' ||
			((await allows(app, 'codeByAccount', accountId)) &&
				(await allows(app, 'codeByAccountDaily', accountId))));
	if (!mayTry) return { ok: false, code: 'too-many' };
	const forget = async () => {
		await forgetTries(app, 'codeByAccount', accountId);
		await forgetTries(app, 'codeByAccountDaily', accountId);
	};
	return { ok: true, code, forget };
}

/** Takes a code of an account, which is locked; `false`: it is none. No code counts twice. */
export async function spendCode(
	work: Work,
	keys: Keys,
	accountId: string,
	code: TypedCode
): Promise<boolean> {
	const factor = await factorOf(work.tx, accountId);
	if (!factor) return false;
	if (code.kind === 'recovery') {
		return takeRecoveryCode(work.tx, accountId, code.hash);
	}
	const secret = keys.unseal(sealedFor(accountId), { keyId: factor.keyId, wrapped: factor.sealed });
	if (secret === null)
		throw new Error(`The secret of a second factor cannot be opened under key ${factor.keyId}`);
	const step = stepOf(secret, code.code, work.wall, factor.lastStep);
	// Sealed anew, so that an older master key can be taken out some day.
	const sealed = keys.seal(sealedFor(accountId), secret);
	return step !== null && (await takeStep(work.tx, accountId, step, sealed));
}

async function spending<T>(
	app: Transacting & Using<'keys'>,
	accountId: string,
	{ code: typed, client }: { code: string; client: string },
	then: (work: Work) => Promise<T>
): Promise<SpentOn<T>> {
	const may = await maySpend(app, accountId, typed, client);
	if (!may.ok) return { kind: 'refused', code: may.code === 'wrong' ? 'wrong-code' : may.code };
	const done = await transact(app, { id: accountId }, async (work) => {
		await lockAccount(work.tx, accountId);
		if (!(await factorOf(work.tx, accountId))) return notDone('is-off');
		if (!(await spendCode(work, app.keys, accountId, may.code))) return notDone('wrong-code');
		return { ok: true as const, value: await then(work) };
	});
	if (!done.ok) return { kind: 'refused', code: done.code };
	await may.forget();
	return done.value;
}

async function freshCodes({ tx }: Work, accountId: string): Promise<string[]> {
	const codes = Array.from({ length: RECOVERY_CODES }, newRecoveryCode);
	await keepRecoveryCodes(
		tx,
		accountId,
		codes.map((code) => hashOf(code.replaceAll('-', '')))
	);
	return codes;
}

export type FactorNews = 'on' | 'off' | 'recovery';
const ACTIONS = { on: 'code-asked', off: 'code-not-asked', recovery: 'used-recovery-code' } as const;

/** In the audit, and by mail to whoever the account belongs to. */
export async function tell(work: Work, accountId: string, what: FactorNews): Promise<void> {
	await work.note({
		action: ACTIONS[what],
		subject: { kind: 'account', id: accountId },
		memberId: accountId
	});
	await work.queue('mail', { occasion: 'second-factor', memberId: accountId, what }, { memberId: accountId });
	work.standingChanged(accountId);
}

function signedOffer({ keys, clock }: Using<'clock' | 'keys'>, accountId: string, secret: string): string {
	return keys.signText(OFFER, JSON.stringify({ accountId, secret, until: clock.wall() + OFFER_MS }));
}

/** The secret of an offer that was made to this account, and is not over. */
function secretOf(
	{ keys, clock }: Using<'clock' | 'keys'>,
	accountId: string,
	signed: string
): string | null {
	const text = keys.readText(OFFER, signed);
	if (text === null) return null;
	const offer = JSON.parse(text) as { accountId: string; secret: string; until: number };
	return offer.accountId === accountId && clock.wall() < offer.until ? offer.secret : null;
}
