import { error, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { documentPage, paperOf } from '$server/reads/front/documents';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	const document = await documentPage(app, params.number, viewer);
	if (!document) error(404, NO_SUCH_PAGE);
	const { number, corrects, corrections } = document;
	return { number, corrects, corrections, paper: await paperOf(app, document) };
};
