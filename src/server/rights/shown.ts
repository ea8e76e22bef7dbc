/** What the front shows, from memory: see `Rights.content`. */
import { pricesIn } from '$core/billing/currencies';
import type { Decision } from '$core/access/decision';
import type { OwnDeterrents } from '$core/media/deterrents';
import type { WayOfWatching } from '$core/media/way';
import type { Using } from '../app';
import {
	allCategories,
	allWays,
	allTags,
	assetOfItem,
	ownDeterrents,
	allRows,
	wayOf,
	type Asset,
	type Category,
	type LibraryItem
} from '../db/queries/library';
import { itemById, type Item } from '../db/queries/items';
import { groupedBy } from '../db/queries/members';
import { withPlaces } from '../db/queries/places';
import { plansWithPrices, type OfferedPlan } from '../db/queries/sales';

export type { Asset } from '../db/queries/library';

export interface ShownItem {
	item: Item;
	asset: Asset | null;
}

export function shownItem(app: Using<'db' | 'rights'>, itemId: string): Promise<ShownItem | null> {
	return app.rights.content(`item:${itemId}`, async () => {
		const item = await itemById(app.db, itemId);
		return item && { item, asset: await assetOfItem(app.db, itemId) };
	});
}

/** What single items have of their own against being passed on: most have nothing. */
export function shownDeterrents(app: Using<'db' | 'rights'>): Promise<Map<string, OwnDeterrents>> {
	return app.rights.content('deterrents', () => ownDeterrents(app.db));
}

export async function shownWay(app: Using<'db' | 'rights'>, id: string | null): Promise<WayOfWatching> {
	return wayOf(await app.rights.content('ways', () => allWays(app.db)), id);
}

/** All plans with their prices on sale, in the order in which they are offered. */
export function shownPlans(app: Using<'db' | 'rights'>): Promise<OfferedPlan[]> {
	return app.rights.content('plans', () => plansWithPrices(app.db));
}

/** The same as whoever looks finds them: with what is left of prices that are for the first buyers alone, in one currency each. */
export async function plansNow(
	app: Using<'db' | 'rights' | 'site'>,
	{ now, currency }: { now: number; currency?: string | undefined }
): Promise<OfferedPlan[]> {
	const plans = await withPlaces(app.db, await shownPlans(app), { now });
	const wishes = [currency ?? null, (await app.site()).currency];
	return plans.map((plan) => inCurrency(plan, wishes));
}

/** A plan with its prices in the first of some currencies that it has any in. */
export function inCurrency(plan: OfferedPlan, wishes: readonly (string | null)[]): OfferedPlan {
	const prices = pricesIn(plan.prices, wishes);
	const [price = plan.price] = prices;
	return prices.length === plan.prices.length ? plan : { ...plan, price, prices };
}

/** Everything in the Library, drafts and what is archived as well. */
export function shownRows(app: Using<'db' | 'rights'>): Promise<LibraryItem[]> {
	return app.rights.content('rows', () => allRows(app.db));
}

/** Everything that is not a draft or archived, in the order of the Library. */
export function shownLibrary(app: Using<'db' | 'rights'>): Promise<LibraryItem[]> {
	return app.rights.content('library', async () =>
		(await shownRows(app))
			.filter(({ state }) => state === 'published' || state === 'scheduled')
			.sort((a, b) => a.position - b.position || a.createdAt - b.createdAt || (a.id < b.id ? -1 : 1))
	);
}

/** The same by what it lives in. */
export function shownInside(app: Using<'db' | 'rights'>): Promise<Map<string, LibraryItem[]>> {
	return app.rights.content('inside', async () => groupedBy(await shownLibrary(app), ({ homeId }) => homeId));
}

export function shownCategories(app: Using<'db' | 'rights'>): Promise<Category[]> {
	return app.rights.content('categories', () => allCategories(app.db));
}

export function shownTags(app: Using<'db' | 'rights'>): Promise<Category[]> {
	return app.rights.content('tags', () => allTags(app.db));
}

/** Whether a viewer may see the picture that stands for an item, by the decision about them. */
export async function showsPoster(
	app: Using<'db' | 'rights'>,
	decision: Decision,
	itemId: string
): Promise<boolean> {
	if (decision.verdict === 'open') return true;
	// What is left out of lists shows no picture either: its address answers as if there were none.
	if (decision.answer.kind === 'absent' || !decision.isListed) return false;
	return (await shownItem(app, itemId))?.item.showsPoster ?? false;
}
