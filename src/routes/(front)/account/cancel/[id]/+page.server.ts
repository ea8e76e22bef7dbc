import { error, fail, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { parse, readForm } from '$server/http/parse';
import { accountView } from '$server/reads/front/account-view';
import { CANCEL_REASONS, cancelAgreement } from '$server/usecases/sales/steer-agreement';
import type { Actions, PageServerLoad } from './$types';
import { CancelForm } from './form';

export const load: PageServerLoad = async ({ locals: { app, viewer, look }, params, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	const { plans } = await accountView(app, look, viewer.id);
	const plan = plans.find(({ id }) => id === params.id);
	if (!plan) error(404, NO_SUCH_PAGE);
	const isOver = ['ended', 'ending', 'finished'].includes(plan.state);
	if (isOver || plan.isInstalments) redirect(303, '/account');
	return { plan, reasons: [...CANCEL_REASONS] };
};

export const actions: Actions = {
	default: async ({ locals: { app, viewer }, request, params }) => {
		if (!viewer) redirect(303, '/sign-in?next=/account');
		const parsed = await parse(CancelForm, await readForm(request));
		if (!parsed.ok) return fail(400, parsed);
		const cancelled = await cancelAgreement(app, viewer.id, params.id, parsed.data);
		if (!cancelled.ok && cancelled.code === 'unknown') error(404, NO_SUCH_PAGE);
		redirect(303, '/account');
	}
};
