import { error } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { batchPage } from '$server/reads/desk/codes';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app }, params }) => {
	const page = await batchPage(app, params.id);
	if (!page) error(404, NO_SUCH_PAGE);
	return { ...page, origin: app.settings.origin };
};
