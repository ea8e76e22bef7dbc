import { error } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { waitingPage } from '$server/reads/desk/plans';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app }, params, url }) => {
	const page = await waitingPage(app, params.plan, Number(url.searchParams.get('page')) || 1);
	if (!page) error(404, NO_SUCH_PAGE);
	return { waiting: page };
};
