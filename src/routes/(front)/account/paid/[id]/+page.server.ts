import { error, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { settleOwnPayment } from '$server/usecases/sales/pay-now';
import type { PageServerLoad } from './$types';

const SAID = { captured: 'paid', declined: 'declined', expired: 'ended', pending: 'waits' } as const;

/** The way back from paying by hand: asks what became of it, and says it in the account. */
export const load: PageServerLoad = async ({ locals: { app, viewer }, params, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	const state = await settleOwnPayment(app, viewer.id, params.id);
	if (state === null) error(404, NO_SUCH_PAGE);
	redirect(303, `/account?said=${SAID[state]}`);
};
