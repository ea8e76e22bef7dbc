/**
 * From free to paid: puts a plan before what was open to everybody, and gives those who use it already a plan of their own that
 * keeps it open. Both are one change, rehearsed with all that they give, and written in one transaction.
 */
import { inArray } from 'drizzle-orm';
import { chargedPlaces, openToAll, stillOpen, type StillOpen } from '$core/access/charging';
import { comparingSources } from '$core/access/delta';
import type { Fence, Member, PolicySource } from '$core/access/model';
import { ownFences } from '$core/access/plan-fences';
import type { Policy } from '$core/access/policy';
import { withGiven } from '$core/access/rehearse-members';
import type { Instant } from '$core/time/instant';
import { DUPLICATE_KEY, errorNumber } from '../../db/connect';
import { whoOpened } from '../../db/queries/keepers';
import { accountByEmail, accountsByEmail } from '../../db/queries/members';
import { allFences, type KeptFence } from '../../db/queries/policy';
import { planById } from '../../db/queries/sales';
import { accounts } from '../../db/schema/people';
import { inPieces } from '../../in-pieces';
import { need, type Staff } from '../../people/need';
import { digestOf, type Work } from '../../transact';
import { grantTo } from '../access/granting';
import { fenceFor } from '../access/give-plan-items';
import { changesFor, withOpens, writeOpens } from '../access/plan-opens';
import {
	consentOf,
	lookingAnew,
	saveRehearsed,
	type KeptRehearsal,
	type Mint,
	type Rehearsing
} from '../access/rehearsed-save';
import { makeAccount } from '../accounts/make-account';
import { writeBatch, type BatchWish } from '../codes/codes';
import { SOLD_HERE, writePlan, type PlanWish } from './save-plan';

/** Who keeps it for nothing. */
export type Keepers =
	| { kind: 'nobody' }
	/** Everybody who has an account. */
	| { kind: 'everybody' }
	/** Whoever has watched, heard or downloaded something of it. */
	| { kind: 'opened' }
	| { kind: 'joined-before'; at: Instant }
	/** Those who have no account get one, and a mail that leads in. */
	| { kind: 'addresses'; emails: readonly string[] }
	/** Where there were no accounts: whoever has the code that is handed out, on the device that typed it or in their account. */
	| { kind: 'code'; code: string };

export interface ChargingWish {
	/** Items, and collections for what lives in them. */
	itemIds: readonly string[];
	/** What opens it from now on. */
	planId: string;
	keepers: Keepers;
	/** What the plan is called that keeps it open for them. */
	keptName: string;
	/** Until when they keep it; `null`: for good. */
	until: Instant | null;
}

export type Charged =
	/** @param keptId the plan that keeps it open; @param batchId the code that does */
	| { kind: 'saved'; keptId: string | null; batchId: string | null; count: number }
	/** @param count members who would keep it; @param invited addresses that would get an account */
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal; count: number; invited: number }
	/** It would be open all the same. */
	| { kind: 'still-open'; places: StillOpen[] }
	| {
			kind: 'refused';
			code: 'unknown-plan' | 'nothing-open' | 'code-taken' | 'ends-before-it-begins';
	  };

export async function beginCharging(
	app: Rehearsing,
	actor: Staff,
	wish: ChargingWish,
	agreedTo: string | null
): Promise<Charged> {
	need(actor, 'plans');
	need(actor, 'fences');
	if (wish.keepers.kind === 'code') need(actor, 'codes');
	else if (wish.keepers.kind !== 'nobody') need(actor, 'members');
	const once = () => lookingAnew(app, () => chargeOnce(app, actor, wish, agreedTo));
	try {
		return await once();
	} catch (error) {
		if (errorNumber(error) !== DUPLICATE_KEY) throw error;
	}
	// Somebody said the same yes at the same moment, and it is done by now; or there is such a code.
	await app.rights.refresh();
	try {
		return await once();
	} catch (error) {
		const isTaken = errorNumber(error) === DUPLICATE_KEY && wish.keepers.kind === 'code';
		if (isTaken) return { kind: 'refused', code: 'code-taken' };
		throw error;
	}
}

async function chargeOnce(
	app: Rehearsing,
	actor: Staff,
	wish: ChargingWish,
	agreedTo: string | null
): Promise<Charged> {
	need(actor, 'plans');
	const { planId, keepers, until } = wish;
	const now = app.clock.business();
	if (until !== null && until <= now) return { kind: 'refused', code: 'ends-before-it-begins' };
	const plan = await planById(app.db, planId);
	if (!plan) return { kind: 'refused', code: 'unknown-plan' };
	const { name } = plan;
	const policy = await app.rights.policy();
	const places = chargedPlaces(policy, wish.itemIds);
	const open = openToAll(policy, places, now);
	if (open.length === 0) return { kind: 'refused', code: 'nothing-open' };
	const consent = await consentOf(app, agreedTo);
	const sold = soldFences(policy, await allFences(app.db), { id: planId, name }, wish.itemIds, consent.mint);
	const toClose = [
		...new Set([...sold.toClose, ...places.filter((id) => policy.resources.get(id)?.base === 'open')])
	];
	const kept =
		keepers.kind === 'nobody' ? null : keptFor(wish, plan.price.terms.currency, open, consent.mint);
	const changes = [...sold.changes, ...(kept ? [{ before: null, after: kept.fence }] : [])];
	const made = kept?.plan ? [kept.plan.inPolicy] : [];
	const change = (source: PolicySource) =>
		withOpens({ ...source, plans: [...source.plans, ...made] }, changes, toClose);
	const after = await policyAfter(policy, change);
	const inVain = stillOpen(after, open, now);
	if (inVain.length > 0) return { kind: 'still-open', places: inVain };
	const { memberIds, unknown } = await whoKeeps(app, keepers, open);
	const become = (member: Member) =>
		kept?.plan ? withGiven(member, { planId: kept.plan.id, from: consent.mint.at, until }) : member;
	const saved = await saveRehearsed(
		app,
		actor,
		consent,
		change,
		async (work) => {
			if (kept?.plan) await writePlan(work, kept.plan.id, kept.plan.wish);
			if (kept?.batch) await writeBatch(work, kept.batch.id, [kept.batch.wish.code], kept.batch.wish);
			await writeOpens(work, changes, toClose);
			if (!kept?.plan) return 0;
			const { id: keptId } = kept.plan;
			const invited = await makeKeepers(work, unknown, keptId);
			return giveKept(work, [...memberIds, ...invited], { planId: keptId, until, from: consent.mint.at });
		},
		{ given: { memberIds: new Set(memberIds), become } }
	);
	return saved.kind === 'rehearsed'
		? { ...saved, count: memberIds.length, invited: unknown.length }
		: {
				...{ kind: 'saved', keptId: kept?.plan?.id ?? null, batchId: kept?.batch?.id ?? null },
				count: saved.value
			};
}

/** Where it opens everything already, no fence is needed for it. */
function soldFences(
	policy: Policy,
	fences: readonly KeptFence[],
	plan: { id: string; name: string },
	itemIds: readonly string[],
	mint: Mint
): ReturnType<typeof changesFor> {
	const own = ownFences(fences, plan.id);
	if (own.everything) return { changes: [], toClose: [] };
	const picked = own.items?.selector.kind === 'items' ? own.items.selector.itemIds : [];
	const ids = [...own.within.keys(), ...picked, ...itemIds].filter((id) => policy.resources.has(id));
	return changesFor(policy, fences, plan, { kind: 'chosen', ids }, mint);
}

/** What keeps it open: a fence for the holders of a plan, or of a code, which needs no account. */
interface Kept {
	fence: Fence;
	plan: { id: string; wish: PlanWish; inPolicy: PolicySource['plans'][number] } | null;
	batch: { id: string; wish: BatchWish & { code: string } } | null;
}

/** It opens what was open, each for itself; the plan is sold to nobody. */
function keptFor(
	{ keptName: name, keepers, until }: ChargingWish,
	currency: string,
	open: readonly string[],
	mint: Mint
): Kept {
	// Its id says what was looked at: a yes to other keepers, or to another end, is to another change.
	const id = mint.id(`kept ${digestOf({ keepers, until, name })}`);
	// Beside the fence of what is sold, in the same change.
	const own: Mint = { at: mint.at, id: (of) => mint.id(`kept ${of}`) };
	const selector = { kind: 'items' as const, itemIds: [...open] };
	const fence = fenceFor(own, id, { name: `What ${name} opens`, selector });
	if (keepers.kind === 'code') {
		const audience = { kind: 'code' as const, batchId: id };
		const window =
			until === null
				? null
				: { opens: { kind: 'at-once' as const }, closes: { kind: 'on' as const, at: until } };
		const does = { kind: 'opens' as const };
		const times = { startsAt: null, endsAt: until, usesPerCode: null };
		return {
			fence: { ...fence, crossings: fence.crossings.map((one) => ({ ...one, audience, window })) },
			plan: null,
			batch: { id, wish: { name, code: keepers.code, count: 1, does, ...times } }
		};
	}
	const wish: PlanWish = {
		...KEPT,
		name,
		terms: { currency, firstMinor: 0, feeMinor: 0, then: { kind: 'nothing' } },
		access: until === null ? { kind: 'for-good' } : { kind: 'until', at: until }
	};
	const { isPublic, isOnSale, afterLapse, rung } = wish;
	const inPolicy = { id, isPublic, isOnSale, ladderId: null, rung, afterLapse };
	return { fence, plan: { id, wish, inPolicy }, batch: null };
}

const KEPT: Omit<PlanWish, 'name' | 'access' | 'terms'> = {
	...SOLD_HERE,
	lines: [],
	note: '',
	lessFor: null,
	priceName: '',
	payBy: null,
	isOpenAtOnce: false,
	isPublic: false,
	isOnSale: false,
	afterLapse: 'on',
	ladder: null,
	rung: 1
};

async function policyAfter(policy: Policy, change: (source: PolicySource) => PolicySource): Promise<Policy> {
	const delta = await inPieces(comparingSources(policy.source, change(policy.source)));
	return inPieces(policy.refiling(delta));
}

/** Staff open everything, and keep nothing. @returns members in the order of their ids, and addresses of nobody */
async function whoKeeps(
	app: Rehearsing,
	keepers: Keepers,
	open: readonly string[]
): Promise<{ memberIds: string[]; unknown: string[] }> {
	const everybody = [...(await app.population.all()).values()].filter(({ isStaff }) => !isStaff);
	const of = (which: (member: Member) => boolean) => ({
		memberIds: everybody
			.filter(which)
			.map(({ id }) => id)
			.sort(),
		unknown: [] as string[]
	});
	switch (keepers.kind) {
		case 'nobody':
		case 'code':
			return of(() => false);
		case 'everybody':
			return of(() => true);
		case 'joined-before':
			return of(({ since }) => since < keepers.at);
		case 'opened': {
			const opened = await whoOpened(app.db, open);
			return of(({ id }) => opened.has(id));
		}
		case 'addresses': {
			const known = await accountsByEmail(app.db, keepers.emails);
			const ids = new Set([...known.values()].map(({ id }) => id));
			const { memberIds } = of(({ id }) => ids.has(id));
			return { memberIds, unknown: keepers.emails.filter((email) => !known.has(email)) };
		}
	}
}

const AT_ONCE = 500;

/**
 * To those who are still there. Whoever paid on their address stays signed in although nobody has shown that the mailbox is theirs:
 * what is kept was open to everybody. @returns how many they are
 */
async function giveKept(
	work: Work,
	memberIds: readonly string[],
	given: { planId: string; from: Instant; until: Instant | null }
): Promise<number> {
	const sorted = [...new Set(memberIds)].sort();
	let count = 0;
	for (let n = 0; n < sorted.length; n += AT_ONCE) {
		const there = await work.tx
			.select({ memberId: accounts.id })
			.from(accounts)
			.where(inArray(accounts.id, sorted.slice(n, n + AT_ONCE)))
			.orderBy(accounts.id)
			.for('update');
		await grantTo(
			work,
			there.map(({ memberId }) => ({ memberId, ...given, source: 'hand' as const, by: 'hand' }))
		);
		count += there.length;
	}
	return count;
}

/** Accounts for those who have none. Who has got one meanwhile keeps it with that. */
async function makeKeepers(work: Work, emails: readonly string[], planId: string): Promise<string[]> {
	const made: string[] = [];
	for (const email of emails) {
		const memberId = await makeAccount(work, { email, name: '' });
		if (memberId === null) {
			const known = await accountByEmail(work.tx, email);
			if (known) made.push(known.id);
			continue;
		}
		await work.note({ action: 'added-member', subject: { kind: 'account', id: memberId }, memberId });
		await work.queue('mail', { occasion: 'invitation', memberId, planId }, { memberId });
		made.push(memberId);
	}
	return made;
}
