import { error, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { settleOwnCard } from '$server/usecases/sales/change-card';
import type { PageServerLoad } from './$types';

/** The way back from the page on which a card is kept. */
export const load: PageServerLoad = async ({ locals: { app, viewer }, params, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	const state = await settleOwnCard(app, viewer.id, params.id);
	if (state === null) error(404, NO_SUCH_PAGE);
	redirect(303, `/account?said=${state === 'captured' ? 'card' : 'no-card'}`);
};
