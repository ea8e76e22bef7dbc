/** Plans as the Desk lists and edits them. */
import { decide } from '$core/access/decide/decide';
import { STRANGER } from '$core/access/model';
import { ownFences } from '$core/access/plan-fences';
import { openedByPlan, type Policy } from '$core/access/policy';
import type { Using } from '../../app';
import { itemsByIds } from '../../db/queries/items';
import { earlierPrices } from '../../db/queries/repricing';
import { extrasOf } from '../../db/queries/extras';
import { placesTaken } from '../../db/queries/places';
import { countWaiting, waitingFor } from '../../db/queries/waiting-list';
import { planById, plansWithPrices, pricesOf } from '../../db/queries/sales';
import { ladders } from '../../db/schema/sales';
import { deskNames, type DeskNames } from './names';
import { shownPlans } from '../../rights/shown';

const ITEMS_SHOWN = 100;

/** What plans are called, in the order in which they are offered. */
export async function planNames(app: Using<'db' | 'rights'>): Promise<{ id: string; name: string }[]> {
	return (await shownPlans(app)).map(({ id, name }) => ({ id, name }));
}

export async function planList(app: Using<'db' | 'rights'>) {
	const policy = await app.rights.policy();
	return {
		ladders: await app.db.select().from(ladders),
		plans: (await plansWithPrices(app.db)).map((plan) => ({
			...{ id: plan.id, name: plan.name, slug: plan.slug, isPublic: plan.isPublic, isOnSale: plan.isOnSale },
			terms: plan.price.terms,
			morePrices: plan.prices.length - 1,
			/** It sells one thing of the Library, and was made there. */
			isAlone: plan.soleItemId !== null,
			isGiven: plan.givenFrom !== null,
			sellsFrom: plan.sellsFrom,
			sellsUntil: plan.sellsUntil,
			firstDay: plan.firstDay,
			/** Sold only to those who may open something else. */
			isForSome: plan.soldTo !== null,
			elsewhere: plan.buyAt === null ? null : new URL(plan.buyAt).host,
			...(plan.soleItemId === null ? countsOf(policy, plan.id) : countsOfOne(policy, plan.soleItemId))
		}))
	};
}

/** What sells one thing alone is not counted through: there may be hundreds. */
function countsOfOne(policy: Policy, itemId: string): { opens: number; drafts: number } {
	const state = policy.resources.get(itemId)?.state;
	const opens = state === 'published' || state === 'scheduled' ? 1 : 0;
	return { opens, drafts: state === 'draft' ? 1 : 0 };
}

function countsOf(policy: Policy, planId: string): { opens: number; drafts: number } {
	return {
		opens: openedByPlan(policy, planId).length,
		drafts: openedByPlan(policy, planId, 'drafts').length
	};
}

/** `isOpenToAll`: strangers may open it, and so it keeps nobody from buying. */
function soldToShown(policy: Policy, id: string, resources: DeskNames['resources'], now: number) {
	const title = resources[id]?.title ?? 'Something that is gone';
	return { id, title, isOpenToAll: decide(policy, STRANGER, id, now).verdict === 'open' };
}

/** One plan and the first of what it opens; `null`: there is none. */
export async function planPage(app: Using<'clock' | 'db' | 'rights'>, id: string) {
	const plan = await planById(app.db, id);
	if (!plan) return null;
	const policy = await app.rights.policy();
	const opened = openedByPlan(policy, plan.id);
	const drafts = openedByPlan(policy, plan.id, 'drafts');
	const items = await itemsByIds(
		app.db,
		[...opened, ...drafts].slice(0, ITEMS_SHOWN).map((item) => item.id)
	);
	const own = ownFences(policy.source.fences.toReversed(), plan.id);
	const picked = own.items?.selector.kind === 'items' ? own.items.selector.itemIds : [];
	const { resources } = await deskNames(app);
	const prices = await pricesOf(app.db, plan.id);
	const limited = prices.flatMap(({ priceId, firstBuyers }) => (firstBuyers === null ? [] : [priceId]));
	const taken = await placesTaken(app.db, limited, app.clock.business());
	return {
		plan,
		/** What its buyers may open. */
		soldTo: plan.soldTo === null ? null : soldToShown(policy, plan.soldTo, resources, app.clock.business()),
		prices: prices.map((price) => ({ ...price, taken: taken.get(price.priceId) ?? 0 })),
		waiting: await countWaiting(app.db, plan.id),
		/** What its buyers are offered besides, by name. */
		extras: (await extrasOf(app.db, plan.id)).map(({ planName }) => planName),
		earlier: await earlierPrices(app.db, plan.id),
		opensEverything: own.everything !== null,
		/** What was chosen for it, here or by fences that are its alone. */
		chosen: [...own.within.keys(), ...picked].flatMap((id) => {
			const known = resources[id];
			return known ? { id, title: known.title, kind: known.kind } : [];
		}),
		opens: items.map(({ id, title, state }) => ({ id, title, state })),
		opensCount: opened.length,
		draftCount: drafts.length
	};
}

const WAITING_ON_A_PAGE = 100;

/** Who waits for a plan, those who came first first; `null`: there is no such plan. */
export async function waitingPage(app: Using<'db'>, planId: string, page: number) {
	const plan = await planById(app.db, planId);
	if (!plan) return null;
	const count = await countWaiting(app.db, plan.id);
	const pages = Math.max(1, Math.ceil(count / WAITING_ON_A_PAGE));
	const shown = Math.min(Math.max(1, page), pages);
	const offset = (shown - 1) * WAITING_ON_A_PAGE;
	return {
		plan: { id: plan.id, name: plan.name },
		...{ count, first: offset + 1, pageSize: WAITING_ON_A_PAGE },
		rows: await waitingFor(app.db, plan.id, { limit: WAITING_ON_A_PAGE, offset })
	};
}

/** All of them, as a table; `null`: there is no such plan. */
export async function waitingAsTable(app: Using<'db'>, planId: string) {
	const plan = await planById(app.db, planId);
	return plan && { slug: plan.slug, rows: await waitingFor(app.db, plan.id, { limit: 100_000 }) };
}
