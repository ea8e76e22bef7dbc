/** What the front shows, from memory: see `Rights.content`. */
import type { App } from '../app';
import { assetOfItem, itemById, type Asset, type Item } from '../db/queries/library';
import { plansWithPrices, type OfferedPlan } from '../db/queries/sales';

export interface ShownItem {
	item: Item;
	asset: Asset | null;
}

export function shownItem(app: App, itemId: string): Promise<ShownItem | null> {
	return app.rights.content(`item:${itemId}`, async () => {
		const item = await itemById(app.db, itemId);
		return item && { item, asset: await assetOfItem(app.db, itemId) };
	});
}

/** All plans with their prices on sale, cheapest first. */
export function shownPlans(app: App): Promise<OfferedPlan[]> {
	return app.rights.content('plans', () => plansWithPrices(app.db));
}
