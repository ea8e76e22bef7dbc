import { error, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { movesPage } from '$server/reads/front/moves';
import { stayAsIs } from '$server/usecases/sales/move-plan';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params }) => {
	const page = viewer && (await movesPage(app, viewer.id, params.id));
	if (!page) error(404, NO_SUCH_PAGE);
	return page;
};

export const actions: Actions = {
	stay: async ({ locals: { app, viewer }, params }) => {
		const stayed = viewer && (await stayAsIs(app, viewer.id, params.id));
		if (!stayed?.ok) error(404, NO_SUCH_PAGE);
		redirect(303, '/account?said=stays');
	}
};
