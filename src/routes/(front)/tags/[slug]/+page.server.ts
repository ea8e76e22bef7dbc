import { labelPage } from '$server/http/label-page';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params }) => ({
	list: await labelPage(locals, 'tags', params.slug)
});
