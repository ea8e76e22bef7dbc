import { labelList } from '$server/http/label-list';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params }) => ({
	list: await labelList(locals, 'categories', params.slug)
});
