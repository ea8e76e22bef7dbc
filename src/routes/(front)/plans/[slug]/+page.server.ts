import { error } from '@sveltejs/kit';
import { ownPath } from '$server/http/cookies';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { planPage } from '$server/reads/front/shop';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, look }, params, url }) => {
	const page = await planPage(app, look, params.slug, ownPath(url.searchParams.get('next'), '') || null);
	if (!page) error(404, NO_SUCH_PAGE);
	return page;
};
