/**
 * Whoever waits until a plan is sold leaves their address, and is told when it is: once. Only whoever has shown that the mailbox is
 * theirs stands on the list: a member who is signed in, or whoever pressed the link that was mailed to the address.
 */
import { and, eq } from 'drizzle-orm';
import { sellsAt } from '$core/billing/plan-access';
import type { Using } from '../../app';
import type { Handle } from '../../db/connect';
import { accountById } from '../../db/queries/members';
import { withPlaces } from '../../db/queries/places';
import { planById, planBySlug, type OfferedPlan } from '../../db/queries/sales';
import { isWaiting, plansWaitedFor, takeWaiting } from '../../db/queries/waiting-list';
import { waitingList } from '../../db/schema/sales';
import { transact, type Transacting, type Work } from '../../transact';
import { mayAsk } from '../accounts/sign-in-link';
import { normaliseEmail } from '../accounts/sign-in';
import { isSoldTo } from './sold-to';

const DAY_MS = 86_400_000;
/** As long as the mailed link is good. */
export const WAIT_LINK_DAYS = 14;
/** In one transaction. */
const AT_ONCE = 200;

const JOINS = 'join-waiting-list';
const LEAVES = 'leave-waiting-list';

export interface WaitWish {
	planSlug: string;
	/** Who is signed in; then no address is asked. */
	memberId: string | null;
	email: string;
	client: string;
}

export type Waits =
	/** `mailed`: the link that was sent puts them on the list. */
	| { ok: true; how: 'listed' | 'mailed' }
	/** `sold`: it can be bought, and nobody need wait. */
	| { ok: false; code: 'unknown' | 'sold' | 'too-many' };

/** What strangers are told is the same for every address. */
export async function askToWait(app: Transacting, wish: WaitWish): Promise<Waits> {
	const plan = await planBySlug(app.db, wish.planSlug);
	if (!plan?.hasWaitingList || !(await isSoldTo(app, wish.memberId, plan)))
		return { ok: false, code: 'unknown' };
	if (await isSold(app, plan)) return { ok: false, code: 'sold' };
	const account = wish.memberId === null ? null : await accountById(app.db, wish.memberId);
	const email = account?.email ?? normaliseEmail(wish.email);
	if (account?.provedAt != null) {
		await transact(app, { id: account.id }, (work) => enter(work, plan.id, email, account.id));
		return { ok: true, how: 'listed' };
	}
	if (!(await mayAsk(app, email, wish.client))) return { ok: false, code: 'too-many' };
	await transact(app, null, (work) => work.queue('wait-mail', { email, planId: plan.id }));
	return { ok: true, how: 'mailed' };
}

/** The path of the link that is mailed to an address which was typed. */
export function joiningPath(app: Using<'clock' | 'keys'>, planId: string, email: string): string {
	const until = app.clock.wall() + WAIT_LINK_DAYS * DAY_MS;
	return `/mails/waiting/${sealed(app, JOINS, `${planId} ${until} ${email}`)}`;
}

/** The path at which one press takes an address off the list (RFC 8058: without signing in). */
export function leavingPath(app: Using<'keys'>, planId: string, email: string): string {
	return `/mails/waiting/${sealed(app, LEAVES, `${planId} ${email}`)}`;
}

/** Addresses of pages are written down by many: whose they are is not read there. */
function sealed({ keys }: Using<'keys'>, purpose: string, text: string): string {
	const { keyId, wrapped } = keys.seal(purpose, text);
	return Buffer.from(JSON.stringify([keyId, wrapped])).toString('base64url');
}

/** `null`: it is none of ours, or for another purpose. */
function unsealed({ keys }: Using<'keys'>, purpose: string, token: string): string | null {
	const bytes = Buffer.from(token, 'base64url');
	// One spelling of each.
	if (bytes.toString('base64url') !== token) return null;
	try {
		const [keyId, wrapped] = JSON.parse(bytes.toString('utf8')) as unknown[];
		return keys.unseal(purpose, { keyId: String(keyId), wrapped: String(wrapped) });
	} catch {
		return null;
	}
}

interface Carried {
	does: 'joins' | 'leaves';
	plan: OfferedPlan;
	email: string;
}

/** What a link is for; `null`: it is none of ours, too old, or its plan is gone. */
async function carriedBy(app: Using<'clock' | 'db' | 'keys'>, token: string): Promise<Carried | null> {
	const [leaves, joins] = [unsealed(app, LEAVES, token), unsealed(app, JOINS, token)];
	const [planId = '', ...rest] = (leaves ?? joins ?? '').split(' ');
	const [until = 0, email] = leaves === null ? [Number(rest[0]), rest[1]] : [Infinity, rest[0]];
	const plan = email !== undefined && until > app.clock.wall() ? await planById(app.db, planId) : null;
	return plan && email !== undefined ? { does: leaves === null ? 'joins' : 'leaves', plan, email } : null;
}

/** How an address stands that a link is of. */
export interface WaitingAt {
	does: Carried['does'];
	planName: string;
	planSlug: string;
	waits: boolean;
	/** It can be bought by now. */
	isSold: boolean;
}

export async function waitingAt(
	app: Using<'clock' | 'db' | 'keys'>,
	token: string
): Promise<WaitingAt | null> {
	const carried = await carriedBy(app, token);
	if (!carried) return null;
	const { does, plan, email } = carried;
	return {
		...{ does, planName: plan.name, planSlug: plan.slug },
		waits: await isWaiting(app.db, plan.id, email),
		isSold: await isSold(app, plan)
	};
}

/** A press on the page of a link, or in a mail program. @returns `false`: the link is for nothing any more */
export async function pressWaiting(
	app: Transacting & Using<'keys'>,
	token: string,
	wants: boolean
): Promise<boolean> {
	const carried = await carriedBy(app, token);
	if (!carried) return false;
	const { does, plan, email } = carried;
	// A link to leave puts nobody on the list: whoever has the mail may not be its reader.
	const isEntering = wants && does === 'joins' && plan.hasWaitingList && !(await isSold(app, plan));
	await transact(app, null, (work) =>
		isEntering ? enter(work, plan.id, email, null) : leave(work, plan.id, email, null)
	);
	return true;
}

/** A member who is signed in waits no more. */
export async function endWaiting(app: Transacting, planSlug: string, memberId: string): Promise<void> {
	const plan = await planBySlug(app.db, planSlug);
	const account = await accountById(app.db, memberId);
	const email = account?.email;
	if (!plan || !email) return;
	await transact(app, { id: memberId }, (work) => leave(work, plan.id, email, memberId));
}

async function enter(work: Work, planId: string, email: string, memberId: string | null): Promise<void> {
	await work.tx
		.insert(waitingList)
		.values({ planId, email, at: work.now })
		.onDuplicateKeyUpdate({ set: { toldAt: null } });
	await work.note({
		action: 'waits-for-plan',
		subject: { kind: 'plan', id: planId },
		...(memberId === null ? {} : { memberId })
	});
}

async function leave(work: Work, planId: string, email: string, memberId: string | null): Promise<void> {
	const isThis = and(eq(waitingList.planId, planId), eq(waitingList.email, email));
	const [gone] = await work.tx.delete(waitingList).where(isThis);
	if (gone.affectedRows > 0)
		await work.note({
			action: 'waits-no-more',
			subject: { kind: 'plan', id: planId },
			...(memberId === null ? {} : { memberId })
		});
}

async function isSold(app: Using<'clock'> & { db: Handle }, plan: OfferedPlan): Promise<boolean> {
	const now = app.clock.business();
	const [withLeft = plan] = await withPlaces(app.db, [plan], { now });
	return sellsAt(withLeft, now);
}

/** In the transaction that saves a plan: those who wait are told when its selling opens. */
export async function queueTellingWaiting(
	work: Work,
	planId: string,
	{
		hasWaitingList,
		isOnSale,
		sellsFrom
	}: { hasWaitingList: boolean; isOnSale: boolean; sellsFrom: number | null }
): Promise<void> {
	if (!hasWaitingList || !isOnSale) return;
	const runAt = Math.max(work.now, sellsFrom ?? 0);
	await work.queue(
		'tell-waiting',
		{ planId },
		{ key: `tell-waiting:${planId}:${runAt}`, runAt, subjectId: planId }
	);
}

/** The job: whoever waits for a plan that can be bought by now is told. Those who came first are queued first; mails leave side by side. */
export async function tellWaiting(app: Transacting, planId: string): Promise<void> {
	for (let told = AT_ONCE; told === AT_ONCE;) {
		const plan = await planById(app.db, planId);
		if (!plan || !(await isSold(app, plan))) return;
		told = await transact(app, null, async (work) => {
			const ids = await takeWaiting(work.tx, planId, work.now, AT_ONCE);
			if (ids.length === 0) return 0;
			await work.queueAll(
				'mail',
				ids.map((waitingId) => ({ occasion: 'on-sale' as const, waitingId }))
			);
			const subject = { kind: 'plan', id: planId };
			await work.note({ action: 'told-waiting', subject, after: { count: ids.length } });
			return ids.length;
		});
	}
}

/** Hourly: also where a place came free. */
export async function tellAllWaiting(app: Transacting): Promise<void> {
	for (const planId of await plansWaitedFor(app.db)) await tellWaiting(app, planId);
}
