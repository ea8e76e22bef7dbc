import { isDeepStrictEqual } from 'node:util';
import { eq, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { slugOf } from '$core/access/address';
import type { AfterLapse, PolicySource } from '$core/access/model';
import type { LessFor } from '$core/billing/discount';
import type { ProcessorName } from '$core/billing/pay-by';
import { sellsAt, type PlanAccess } from '$core/billing/plan-access';
import type { Terms } from '$core/billing/terms';
import { planById, planBySlug, type OfferedPlan } from '../../db/queries/sales';
import { ChangedMeanwhile, expectRevision, revisionOf } from '../../revision';
import type { Handle } from '../../db/connect';
import { ladders, plans, prices, priceVersions } from '../../db/schema/sales';
import { endOpenOrders } from '../sales/end-pay-page';
import { queueTellingWaiting } from '../sales/waiting-list';
import { transact, type Work, type Transacting } from '../../transact';
import { consentOf, saveRehearsed, type KeptRehearsal, type Rehearsing } from '../access/rehearsed-save';
import { need, type Staff } from '../../people/need';
import { SITE } from '../running/save-site';

export interface PlanWish {
	name: string;
	lines: string[];
	/** What buyers read when they have it. */
	note: string;
	/** What holders of some other plans pay less. */
	lessFor: LessFor | null;
	/** What the first of its prices is called; empty where it has one alone. */
	priceName: string;
	/** What that asks for, and when. */
	terms: Terms;
	/** Its own ways to pay, the first choice first; `null`: as the site. */
	payBy: readonly ProcessorName[] | null;
	/** Whether joining for nothing lets a new address in at once. */
	isOpenAtOnce: boolean;
	access: PlanAccess;
	/** Whether it can be bought for somebody else. */
	sellsAsGift: boolean;
	/** Whether it can be bought for several people, its price for each. */
	sellsSeats: boolean;
	/** Whether something is sent by post to whoever buys it: then the checkout asks where to. */
	asksPostal: boolean;
	isPublic: boolean;
	isOnSale: boolean;
	/** When selling opens and closes; `null`: since ever, without an end. */
	sellsFrom: number | null;
	sellsUntil: number | null;
	/** On which day all begin who buy before it; `null`: each when they buy. */
	firstDay: number | null;
	/** Whether people may leave their address while it is not sold. */
	hasWaitingList: boolean;
	/** For so many buyers the first of its prices is; `null`: for all. */
	firstBuyers: number | null;
	/** What its buyers may open; `null`: it is sold to everybody. */
	soldTo: string | null;
	afterLapse: AfterLapse;
	/** The other checkout at which it is bought; `null`: it is bought here. */
	buyAt: string | null;
	/** How its seller stands on card statements; `null`: as the site. */
	statementName: string | null;
	/** Its own mailing list, as programs that are told know it; `null`: none. */
	mailingList: string | null;
	/** Since when every new account is given it; `now`: from the saving on, `null`: none is. */
	givenFrom: number | 'now' | null;
	/** Name of the ladder it stands on; `null`: on none. A new name makes a new ladder. */
	ladder: string | null;
	rung: number;
	/** Whether going down from it is at once, for what is paid. */
	isDownAtOnce: boolean;
}

/** Bought at our own checkout, by oneself, as everything on the site, and given to nobody by itself. */
export const SOLD_HERE: Pick<
	PlanWish,
	| 'soldTo'
	| 'sellsFrom'
	| 'sellsUntil'
	| 'firstDay'
	| 'hasWaitingList'
	| 'firstBuyers'
	| 'sellsAsGift'
	| 'sellsSeats'
	| 'asksPostal'
	| 'buyAt'
	| 'statementName'
	| 'mailingList'
	| 'givenFrom'
	| 'isDownAtOnce'
> = {
	soldTo: null,
	sellsFrom: null,
	sellsUntil: null,
	firstDay: null,
	hasWaitingList: false,
	firstBuyers: null,
	isDownAtOnce: false,
	sellsAsGift: false,
	sellsSeats: false,
	asksPostal: false,
	buyAt: null,
	statementName: null,
	mailingList: null,
	givenFrom: null
};

export async function createPlan(app: Transacting, actor: Staff, wish: PlanWish): Promise<string> {
	need(actor, 'plans');
	const planId = uuidv7();
	await transact(app, actor, (work) => writePlan(work, planId, wish));
	return planId;
}

/** @param soleItemId what it sells alone; `null`: it is a plan like others */
export async function writePlan(
	work: Work,
	planId: string,
	wish: PlanWish,
	soleItemId: string | null = null
): Promise<void> {
	const priceId = uuidv7();
	await work.tx.insert(plans).values({
		id: planId,
		soleItemId,
		...columnsOf(wish),
		slug: await freeSlug(work, wish.name),
		position: await lastPosition(work),
		givenFrom: givenSince(wish, work.now),
		ladderId: await ladderNamed(work, wish.ladder, uuidv7()),
		createdAt: work.now
	});
	const { priceName: name, firstBuyers } = wish;
	await work.tx.insert(prices).values({ id: priceId, planId, name, firstBuyers, isOnSale: true });
	await addVersion(work, priceId, 1, wish.terms);
	await queueTellingWaiting(work, planId, wish);
	await work.note({ action: 'created-plan', subject: { kind: 'plan', id: planId }, after: wish });
	work.policyChanged('plan created', { plans: [planId] });
}

/** What is kept as it was wished. */
function columnsOf(wish: PlanWish) {
	const { name, lines, note, lessFor, isPublic, isOnSale, soldTo, access, payBy, isOpenAtOnce } = wish;
	const { afterLapse, sellsAsGift, asksPostal, buyAt, statementName, mailingList, rung, isDownAtOnce } = wish;
	const { sellsFrom, sellsUntil, firstDay, hasWaitingList } = wish;
	const shown = { name, lines, note, lessFor, isPublic, isOnSale, soldTo };
	const intake = { sellsFrom, sellsUntil, firstDay, hasWaitingList };
	const sold = {
		...intake,
		sellsAsGift,
		sellsSeats: wish.sellsSeats,
		asksPostal,
		buyAt,
		statementName,
		mailingList
	};
	return { ...shown, ...sold, access, payBy, isOpenAtOnce, afterLapse, rung, isDownAtOnce };
}

export type EditedPlan =
	| { kind: 'saved' }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	/** Somebody else saved it since it was opened. */
	| { kind: 'changed'; theirs: OfferedPlan }
	| { kind: 'refused'; code: 'unknown' };

export function planRevision(plan: OfferedPlan): string {
	return revisionOf(editablePlan(plan));
}

/** What of a plan two editors could change. */
function editablePlan({ price, ...plan }: OfferedPlan) {
	const { name, lines, isPublic, isOnSale, access, afterLapse, ladderId, rung, payBy, isOpenAtOnce } = plan;
	const { note, lessFor, soldTo, sellsAsGift, asksPostal, buyAt, statementName, mailingList } = plan;
	const { givenFrom, isDownAtOnce, sellsSeats, sellsFrom, sellsUntil, firstDay, hasWaitingList } = plan;
	const { id, name: priceName, firstBuyers } = price;
	const kept = { name, lines, isPublic, isOnSale, access, afterLapse, ladderId, rung, isDownAtOnce };
	return {
		...kept,
		note,
		lessFor,
		soldTo,
		sellsAsGift,
		sellsSeats,
		asksPostal,
		buyAt,
		statementName,
		mailingList,
		sellsFrom,
		sellsUntil,
		firstDay,
		hasWaitingList,
		givenFrom,
		payBy,
		isOpenAtOnce,
		price: id,
		priceName,
		firstBuyers
	};
}

/** A changed price is a new version: who bought at the old one keeps it. */
export async function editPlan(
	app: Rehearsing,
	actor: Staff,
	planId: string,
	wish: PlanWish,
	agreedTo: string | null = null,
	revision: string | null = null
): Promise<EditedPlan> {
	need(actor, 'plans');
	const before = await planById(app.db, planId);
	if (!before) return { kind: 'refused', code: 'unknown' };
	const consent = await consentOf(app, agreedTo);
	const ladderId =
		wish.ladder === null ? null : ((await findLadder(app.db, wish.ladder)) ?? consent.mint.id('ladder'));
	const givenFrom = givenSince(wish, consent.mint.at);
	const { access } = wish;
	const given = givenFrom === null ? {} : { given: { since: givenFrom, access } };
	const change = (source: PolicySource): PolicySource => ({
		...source,
		plans: source.plans.map((plan) =>
			plan.id === planId
				? {
						id: plan.id,
						isPublic: wish.isPublic,
						isOnSale: wish.isOnSale,
						afterLapse: wish.afterLapse,
						ladderId,
						rung: wish.rung,
						...(wish.soldTo === null ? {} : { soldTo: wish.soldTo }),
						...(wish.firstDay === null ? {} : { firstDay: wish.firstDay }),
						...given
					}
				: plan
		)
	});
	const saving = saveRehearsed(app, actor, consent, change, async (work) => {
		await work.tx.select({ id: plans.id }).from(plans).where(eq(plans.id, planId)).for('update');
		const now = await planById(work.tx, planId);
		expectRevision(revision, now && editablePlan(now));
		await work.tx
			.update(plans)
			.set({
				...columnsOf(wish),
				givenFrom,
				ladderId: await ladderNamed(work, wish.ladder, consent.mint.id('ladder'))
			})
			.where(eq(plans.id, planId));
		const { access, price } = now ?? before;
		const { priceId, version } = price;
		const isSamePrice = isDeepStrictEqual(price.terms, wish.terms);
		const isSameDay = (now ?? before).firstDay === wish.firstDay;
		const isSame = isSamePrice && isSameDay && isDeepStrictEqual(access, wish.access);
		if (!isSamePrice) await addVersion(work, priceId, version + 1, wish.terms);
		const { priceName: name, firstBuyers } = wish;
		await work.tx.update(prices).set({ name, firstBuyers }).where(eq(prices.id, priceId));
		// Nobody pays an older price, for another length or first day, or for what is not sold any more, on a page that was opened before.
		const isSoldTo = (now ?? before).soldTo === wish.soldTo;
		if (!isSame || !isSoldTo || !sellsAt(wish, work.now) || wish.buyAt !== null)
			await endOpenOrders(work, planId);
		await queueTellingWaiting(work, planId, wish);
		await work.note({ action: 'edited-plan', subject: { kind: 'plan', id: planId }, before, after: wish });
		work.policyChanged('plan edited', { plans: [planId] });
	});
	try {
		const saved = await saving;
		return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
	} catch (error) {
		const theirs = error instanceof ChangedMeanwhile ? await planById(app.db, planId) : null;
		if (!theirs) throw error;
		return { kind: 'changed', theirs };
	}
}

/** Whole minutes, as they are shown and typed: what was saved is not another moment when it is saved again. */
function givenSince({ givenFrom }: PlanWish, now: number): number | null {
	return givenFrom === 'now' ? now - (now % 60_000) : givenFrom;
}

async function findLadder(db: Handle, name: string): Promise<string | null> {
	const [row] = await db.select({ id: ladders.id }).from(ladders).where(eq(ladders.name, name));
	return row?.id ?? null;
}

/** @param id of a new one */
async function ladderNamed({ tx }: Work, name: string | null, id: string): Promise<string | null> {
	if (name === null) return null;
	const known = await findLadder(tx, name);
	if (known) return known;
	await tx.insert(ladders).values({ id, name });
	return id;
}

/** What a price asks for from now on; who has bought at an older version keeps it. */
export async function addVersion(
	{ tx, now }: Work,
	priceId: string,
	version: number,
	terms: Terms
): Promise<void> {
	await tx.insert(priceVersions).values({ priceId, version, terms, createdAt: now });
}

/** Behind those that were put in order; 0 where nobody has. */
async function lastPosition({ tx }: Work): Promise<number> {
	const [row] = await tx
		.select({ last: sql<number>`coalesce(max(${plans.position}), 0)`.mapWith(Number) })
		.from(plans);
	return row && row.last > 0 ? row.last + 1 : 0;
}

/** In which order they are offered; plans that are not named, because somebody has made them meanwhile, come behind. */
export async function orderPlans(app: Transacting, actor: Staff, ids: readonly string[]): Promise<void> {
	need(actor, 'plans');
	await transact(app, actor, async (work) => {
		const all = await work.tx
			.select({ id: plans.id, position: plans.position })
			.from(plans)
			.where(eq(plans.isLabel, false))
			.orderBy(plans.position, plans.id)
			.for('update');
		const rank = (id: string) => (ids.includes(id) ? ids.indexOf(id) : ids.length);
		const ordered = [...all].sort((a, b) => rank(a.id) - rank(b.id));
		for (const [n, { id, position }] of ordered.entries())
			if (position !== n + 1)
				await work.tx
					.update(plans)
					.set({ position: n + 1 })
					.where(eq(plans.id, id));
		await work.note({
			action: 'ordered-plans',
			subject: SITE,
			before: all.map(({ id }) => id),
			after: ordered.map(({ id }) => id)
		});
		work.contentChanged();
	});
}

async function freeSlug({ tx }: Work, name: string): Promise<string> {
	const wish = slugOf(name).slice(0, 70) || 'plan';
	for (let n = 1; ; n++) {
		const slug = n === 1 ? wish : `${wish}-${n}`;
		if (!(await planBySlug(tx, slug))) return slug;
	}
}
