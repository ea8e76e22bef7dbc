import { labelList } from '$server/http/label-list';
import { shownCategories } from '$server/http/shown';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params, url }) => {
	const label = (await shownCategories(locals.app)).find(({ slug }) => slug === params.slug);
	return { list: await labelList(locals, url, label, ({ categoryId }, id) => categoryId === id) };
};
