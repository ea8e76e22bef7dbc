/** What ids are called, for sentences at the Desk. Plain objects: some go to the browser with the page. */
import type { ResourceKind } from '$core/access/model';
import type { Using } from '../../app';
import { allTitles } from '../../db/queries/library';
import { allFences } from '../../db/queries/policy';
import { allLabels } from '../../db/queries/member-list';
import { plansWithPrices } from '../../db/queries/sales';
import { codeBatches } from '../../db/schema/access';
import { shownCategories, shownTags } from '../../rights/shown';

export interface DeskNames {
	resources: Record<
		string,
		{ title: string; kind: ResourceKind; address: string | null; homeId: string | null; position: number }
	>;
	fences: Record<string, string>;
	plans: Record<string, string>;
	/** On members. */
	labels: Record<string, string>;
	categories: Record<string, string>;
	tags: Record<string, string>;
	batches: Record<string, string>;
}

/** All names there are, kept in memory until something is called otherwise: for sentences that are made here. */
export function deskNames(app: Using<'db' | 'rights'>): Promise<DeskNames> {
	return app.rights.content('names', () => readNames(app));
}

/** The names of whatever a page speaks of, and of the places it lives in: a page carries these and no others. */
export async function namesIn(app: Using<'db' | 'rights'>, page: unknown): Promise<DeskNames> {
	const all = await deskNames(app);
	const found: DeskNames = {
		resources: {},
		fences: {},
		plans: {},
		labels: {},
		categories: {},
		tags: {},
		batches: {}
	};
	const note = (text: string) => {
		if (text.length !== UUID_LENGTH) return;
		for (let id: string | null = text; id !== null && !found.resources[id];) {
			const one: DeskNames['resources'][string] | undefined = all.resources[id];
			if (!one) break;
			found.resources[id] = one;
			id = one.homeId;
		}
		for (const kind of OTHERS) {
			const name = all[kind][text];
			if (name !== undefined) found[kind][text] = name;
		}
	};
	const look = (value: unknown): void => {
		if (typeof value === 'string') note(value);
		else if (Array.isArray(value)) value.forEach(look);
		else if (value !== null && typeof value === 'object')
			for (const [key, inner] of Object.entries(value)) {
				note(key);
				look(inner);
			}
	};
	look(page);
	return found;
}

const UUID_LENGTH = 36;
const OTHERS = ['fences', 'plans', 'labels', 'categories', 'tags', 'batches'] as const;

async function readNames(app: Using<'db' | 'rights'>): Promise<DeskNames> {
	const [titles, fences, plans, labels, batches, categories, tags] = await Promise.all([
		allTitles(app.db),
		allFences(app.db),
		plansWithPrices(app.db),
		allLabels(app.db),
		app.db.select({ id: codeBatches.id, name: codeBatches.name }).from(codeBatches),
		shownCategories(app),
		shownTags(app)
	]);
	const named = (rows: { id: string; name: string }[]) =>
		Object.fromEntries(rows.map(({ id, name }) => [id, name]));
	return {
		resources: Object.fromEntries(
			titles.map(({ id, title, kind, address, homeId, position }) => [
				id,
				{ title, kind, address, homeId, position }
			])
		),
		fences: named(fences),
		plans: named(plans),
		labels: named(labels),
		categories: named(categories),
		tags: named(tags),
		batches: named(batches)
	};
}
