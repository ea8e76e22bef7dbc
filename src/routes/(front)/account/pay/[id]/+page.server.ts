import { error, fail, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { accountView } from '$server/reads/front/account-view';
import { payNow } from '$server/usecases/sales/pay-now';
import type { FrontKey } from '$words/en/front';
import type { Actions, PageServerLoad } from './$types';

/** Where the mail, the bar and the account lead who owes something. */
export const load: PageServerLoad = async ({ locals: { app, viewer, look }, params, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	const plan = (await accountView(app, look, viewer.id)).plans.find(({ id }) => id === params.id);
	if (!plan) error(404, NO_SUCH_PAGE);
	const { name, isOpen, owed, tryAt } = plan;
	if (!owed) redirect(303, '/account?said=nothing');
	return { plan: { name, isOpen, owed, tryAt } };
};

export const actions: Actions = {
	default: async ({ locals: { app, viewer }, params }) => {
		if (!viewer) redirect(303, '/sign-in?next=/account');
		const asked = await payNow(app, viewer.id, params.id).catch((problem: unknown) => {
			app.log.warn({ err: problem }, 'no page to pay on');
			return null;
		});
		if (!asked) return fail(503, { problem: 'checkout.unreachable' satisfies FrontKey });
		if (asked.ok) redirect(303, asked.payUrl);
		if (asked.code === 'unknown') error(404, NO_SUCH_PAGE);
		redirect(303, '/account?said=nothing');
	}
};
