/** Where the lists of categories and tags are found on the front, and what they are called. */
import type { Using } from '../app';
import { shownCategories, shownTags } from './shown';

export async function labelLists(app: Using<'db' | 'rights'>): Promise<{ path: string; name: string }[]> {
	const listed = (kind: string, labels: readonly { name: string; slug: string }[]) =>
		labels.map(({ name, slug }) => ({ path: `/${kind}/${encodeURIComponent(slug)}`, name }));
	return [...listed('categories', await shownCategories(app)), ...listed('tags', await shownTags(app))];
}
