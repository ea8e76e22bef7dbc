/** What ids are called, for sentences at the Desk. Plain objects: they go to the browser with the page. */
import type { ResourceKind } from '$core/access/model';
import type { App } from '../app';
import { allTitles } from '../db/queries/library';
import { allFences } from '../db/queries/policy';
import { plansWithPrices } from '../db/queries/sales';
import { codeBatches } from '../db/schema/access';
import { shownCategories, shownTags } from './shown';

export interface DeskNames {
	resources: Record<
		string,
		{ title: string; kind: ResourceKind; address: string | null; homeId: string | null }
	>;
	fences: Record<string, string>;
	plans: Record<string, string>;
	categories: Record<string, string>;
	tags: Record<string, string>;
	batches: Record<string, string>;
}

export async function deskNames(app: App): Promise<DeskNames> {
	const [titles, fences, plans, batches, categories, tags] = await Promise.all([
		allTitles(app.db),
		allFences(app.db),
		plansWithPrices(app.db),
		app.db.select({ id: codeBatches.id, name: codeBatches.name }).from(codeBatches),
		shownCategories(app),
		shownTags(app)
	]);
	const named = (rows: { id: string; name: string }[]) =>
		Object.fromEntries(rows.map(({ id, name }) => [id, name]));
	return {
		resources: Object.fromEntries(
			titles.map(({ id, title, kind, address, homeId }) => [id, { title, kind, address, homeId }])
		),
		fences: named(fences),
		plans: named(plans),
		categories: named(categories),
		tags: named(tags),
		batches: named(batches)
	};
}
