import { error } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { duePage } from '$server/reads/front/account-view';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params }) => {
	const due = viewer && (await duePage(app, viewer.id, params.payment));
	if (!due) error(404, NO_SUCH_PAGE);
	return due;
};
