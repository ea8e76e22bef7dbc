/** The list of the Library: what is asked of rows is asked of the database, what is asked of fences of the policy. */
import type { Resource } from '$core/access/model';
import type { Policy } from '$core/access/policy';
import type { Using } from '../../app';
import { itemsFound, libraryList, type LibraryAsk } from '../../db/queries/library';
import { shownCategories, shownTags } from '../../rights/shown';

export interface LibraryPageAsk extends Omit<LibraryAsk, 'ids'> {
	/** Only what no fence meets. */
	isUnfenced: boolean;
}

export async function libraryPage(app: Using<'db'>, policy: Policy, { isUnfenced, ...ask }: LibraryPageAsk) {
	if (!isUnfenced) {
		const { rows, total } = await libraryList(app.db, { ...ask, ids: null });
		return { rows, total: total ?? policy.resources.size };
	}
	const found = ask.search === '' ? null : await itemsFound(app.db, ask.search);
	const ids = policy.source.resources
		.filter(
			(one) => isAsked(one, ask) && (found?.has(one.id) ?? true) && policy.passage(one).met.length === 0
		)
		// Ids carry the moment at which they were made.
		.map(({ id }) => id)
		.sort()
		.reverse();
	const from = (ask.page - 1) * ask.limit;
	const shown = ids.slice(from, from + ask.limit);
	const { rows } = await libraryList(app.db, { ...ask, search: '', ids: shown, page: 1 });
	return { rows, total: ids.length };
}

/** What things may be filed under. */
export async function libraryLabels(app: Using<'db' | 'rights'>) {
	return { categories: await shownCategories(app), tags: await shownTags(app) };
}

function isAsked(
	one: Resource,
	{ kind, state, homeId, categoryId, tagId }: Omit<LibraryAsk, 'ids'>
): boolean {
	return (
		(kind === null || one.kind === kind) &&
		(state === null || one.state === state) &&
		(homeId === null || one.homeId === homeId) &&
		(categoryId === null || one.categoryId === categoryId) &&
		(tagId === null || one.tagIds.includes(tagId))
	);
}
