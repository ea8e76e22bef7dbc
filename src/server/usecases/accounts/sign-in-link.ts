/**
 * Mailed links. Opening one changes nothing, so that mail scanners use nothing up; a press on its page signs the device
 * in, once.
 */
import { and, eq, gt, isNull } from 'drizzle-orm';
import { givenTo } from '$core/access/newcomers';
import { isStanding } from '$core/billing/order';
import { OFFLINE_WAITS_DAYS } from '$core/billing/pay-by';
import type { Using } from '../../app';
import { accountByEmail, accountById, lockAccount } from '../../db/queries/members';
import { joinLinks, signInLinks } from '../../db/schema/people';
import type { SiteSettings } from '../../db/schema/running';
import { waitingPlan } from '../../db/queries/codes';
import { lineOf, orderById, orderIfThere } from '../../db/queries/sales';
import { allows } from '../../people/rate-limit';
import { hashOf, newToken } from '../../people/sessions';
import { transact, type Transacting, type Work } from '../../transact';
import { admit, type Admitted } from './admit';
import { makeAccount } from './make-account';
import { hasForeignThings, prove, type Device } from './proving';
import { keepRedeemed } from '../codes/keep';
import { standBy } from '../sales/stand-by';
import { normaliseEmail } from './sign-in';

export const LINK_DAYS = 14;
const DAY_MS = 86_400_000;

/** Makes a link, while its mail is written; `next` is the path that it lands on. */
export async function makeLink(
	app: Using<'clock' | 'db' | 'settings'>,
	accountId: string,
	next: string,
	redemptionId: string | null = null
): Promise<string> {
	const token = newToken();
	const wallNow = app.clock.wall();
	await app.db.insert(signInLinks).values({
		tokenHash: hashOf(token),
		accountId,
		next,
		redemptionId,
		createdAt: wallNow,
		expiresAt: wallNow + LINK_DAYS * DAY_MS
	});
	return `${app.settings.origin}/enter/${token}`;
}

/** Mails a link if the address has an account. What is done here is the same for every address, and so is its time. */
export async function askForLink(
	app: Transacting,
	ask: { email: string; next: string; client: string; joins?: true; redemptionId?: string }
): Promise<{ ok: true } | { ok: false; code: 'too-many' }> {
	const email = normaliseEmail(ask.email);
	if (!(await mayAsk(app, email, ask.client))) return { ok: false, code: 'too-many' };
	const { next, joins, redemptionId } = ask;
	const payload = { email, next, ...(joins && { joins }), ...(redemptionId && { redemptionId }) };
	await transact(app, null, (work) => work.queue('sign-in-mail', payload));
	return { ok: true };
}

/** Whether one more link may be asked for; the asking is counted. @param email normalised */
export async function mayAsk(app: Transacting, email: string, client: string): Promise<boolean> {
	return (await allows(app, 'linkByClient', client)) && (await allows(app, 'linkByEmail', email));
}

/** Mails a way to a free account, where an account alone opens anything: Stile writes to no stranger for nothing. */
export async function askToJoin(
	app: Transacting,
	ask: { email: string; next: string; client: string }
): Promise<{ ok: true } | { ok: false; code: 'too-many' }> {
	const { source } = await app.rights.policy();
	const isOffered =
		givenTo(source, app.clock.business()).length > 0 ||
		source.fences.some(
			({ isOn, crossings }) => isOn && crossings.some(({ audience }) => audience.kind === 'signed-in')
		);
	return askForLink(app, isOffered ? { ...ask, joins: true } : ask);
}

/** The order that pressing a link stands by. */
export interface StoodBy {
	plan: string;
	number: string;
	isFree: boolean;
}

export type LinkState =
	/** `asks`: whether what other devices set before shall end. `keeps`: the plan that a code gave, to be kept by pressing it. */
	| {
			kind: 'good';
			email: string;
			next: string;
			asks: boolean;
			order: StoodBy | null;
			keeps: string | null;
	  }
	/** Used or out of date; another can be mailed to the same address, that does the same. */
	| { kind: 'spent'; email: string; next: string; redemptionId: string | null }
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
	if (!link) return lookAtJoinLink(app, token);
	const account = await accountById(app.db, link.accountId);
	if (!link || !account?.email) return { kind: 'unknown' };
	const { email } = account;
	const { next, redemptionId } = link;
	if (link.usedAt !== null || app.clock.wall() >= link.expiresAt)
		return { kind: 'spent', email, next, redemptionId };
	const asks = await hasForeignThings(app.db, account, device);
	return { kind: 'good', email, next, asks, order: null, keeps: await keptByLink(app, link) };
}

/** Uses the link up, proves the mailbox and signs in. */
export async function pressLink(
	app: Transacting & Using<'site'>,
	token: string,
	device: Device,
	endsForeign: boolean
): Promise<{ admitted: Admitted; next: string; accountId: string } | null> {
	const wallNow = app.clock.wall();
	const site = await app.site();
	return transact(app, null, async (work) => {
		const isThis = eq(signInLinks.tokenHash, hashOf(token));
		const [link] = await work.tx.select().from(signInLinks).where(isThis);
		if (!link) return pressJoinLink(work, site, token, device);
		await lockAccount(work.tx, link.accountId);
		const account = await accountById(work.tx, link.accountId);
		if (!account) return null;
		const [used] = await work.tx
			.update(signInLinks)
			.set({ usedAt: wallNow })
			.where(and(isThis, isNull(signInLinks.usedAt), gt(signInLinks.expiresAt, wallNow)));
		if (used.affectedRows !== 1) return null;
		await prove(work, account, device, endsForeign);
		if (link.redemptionId !== null) await keepRedeemed(work, link.redemptionId, account.id);
		return {
			admitted: await admit(work, account.id, 'link'),
			next: link.next,
			accountId: account.id
		};
	});
}

/** The plan that a code gave, which waits for this link. */
async function keptByLink(
	app: Using<'db'>,
	{ redemptionId }: { redemptionId: string | null }
): Promise<string | null> {
	return redemptionId === null ? null : waitingPlan(app.db, redemptionId);
}

/**
 * What is pressed to get an account: it is made then, and not before.
 * @param does what pressing it stands by, or keeps
 */
export async function makeJoinLink(
	app: Using<'clock' | 'db' | 'settings'>,
	email: string,
	next: string,
	does: { orderId?: string | null; redemptionId?: string | null } = {}
): Promise<string> {
	const { orderId = null, redemptionId = null } = does;
	const token = newToken();
	const createdAt = app.clock.wall();
	// As long as the order stands, its link stands by it.
	const expiresAt = createdAt + (orderId === null ? LINK_DAYS : OFFLINE_WAITS_DAYS) * DAY_MS;
	await app.db
		.insert(joinLinks)
		.values({ tokenHash: hashOf(token), email, next, orderId, redemptionId, createdAt, expiresAt });
	return `${app.settings.origin}/enter/${token}`;
}

async function lookAtJoinLink(app: Using<'clock' | 'db'>, token: string): Promise<LinkState> {
	const [link] = await app.db
		.select()
		.from(joinLinks)
		.where(eq(joinLinks.tokenHash, hashOf(token)));
	if (!link) return { kind: 'unknown' };
	const { email, next, redemptionId } = link;
	if (link.usedAt !== null || app.clock.wall() >= link.expiresAt)
		return { kind: 'spent', email, next, redemptionId };
	const order = link.orderId === null ? null : await orderById(app.db, link.orderId);
	const good = { kind: 'good' as const, email, next, asks: false, keeps: await keptByLink(app, link) };
	if (!order || !isStanding(order.state)) return { ...good, order: null };
	const { text: plan } = await lineOf(app.db, order.id);
	return { ...good, order: { plan, number: order.number, isFree: order.totalMinor === 0 } };
}

/** Makes the account, or proves the one that somebody has made on the address meanwhile: the mailbox is theirs. */
async function pressJoinLink(work: Work, site: SiteSettings, token: string, device: Device) {
	const isThis = eq(joinLinks.tokenHash, hashOf(token));
	const [link] = await work.tx.select().from(joinLinks).where(isThis);
	if (!link) return null;
	const { wall: wallNow } = work;
	// Before the account, as everything that settles an order.
	const order = link.orderId === null ? null : await orderIfThere(work.tx, link.orderId);
	const [used] = await work.tx
		.update(joinLinks)
		.set({ usedAt: wallNow })
		.where(and(isThis, isNull(joinLinks.usedAt), gt(joinLinks.expiresAt, wallNow)));
	if (used.affectedRows !== 1) return null;
	const { email, next } = link;
	const id = await makeAccount(work, { email, name: order?.typedName ?? '' });
	if (id !== null) await work.note({ action: 'joined', subject: { kind: 'account', id }, memberId: id });
	const known = await accountByEmail(work.tx, email);
	if (!known) return null;
	await lockAccount(work.tx, known.id);
	const account = await accountById(work.tx, known.id);
	if (!account) return null;
	await prove(work, account, device, true);
	if (link.redemptionId !== null) await keepRedeemed(work, link.redemptionId, account.id);
	if (order) await standBy(work, site, order.id, (await accountById(work.tx, known.id)) ?? account);
	work.standingChanged(account.id);
	return { admitted: await admit(work, account.id, 'link'), next, accountId: account.id };
}

/** A new link in place of a spent one, to the address that the old one went to. */
export async function mailAgain(app: Transacting, token: string, client: string): Promise<{ ok: boolean }> {
	const state = await lookAtLink(app, token, { orderToken: null, sessionToken: null });
	if (state.kind === 'unknown') return { ok: false };
	const { email, next } = state;
	const waits = state.kind === 'spent' && state.redemptionId !== null ? state.redemptionId : null;
	if (waits === null || (await waitingPlan(app.db, waits)) === null)
		return askToJoin(app, { email, next, client });
	return askForLink(app, { email, next, client, joins: true, redemptionId: waits });
}
