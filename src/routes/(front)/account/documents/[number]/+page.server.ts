import { error, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { documentPage } from '$server/reads/front/shop';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	const document = await documentPage(app, params.number);
	if (!document || (document.memberId !== viewer.id && !viewer.permissions.has('sales')))
		error(404, NO_SUCH_PAGE);
	const { memberId: _, ...shown } = document;
	return { document: shown };
};
