import { error, redirect } from '@sveltejs/kit';
import { isStep, monthsOf } from '$core/billing/agreement-foreseen';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { readForm } from '$server/http/parse';
import { pausesOf } from '$server/reads/front/account-view';
import { pauseAgreement } from '$server/usecases/sales/steer-agreement';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	const plan = await pausesOf(app, viewer.id, params.id);
	if (!plan) error(404, NO_SUCH_PAGE);
	if (plan.pauses.length === 0) redirect(303, '/account');
	return {
		name: plan.name,
		paidThrough: plan.paidThrough,
		pauses: plan.pauses.map(({ step, next }) => ({ step, months: monthsOf(step), nextAt: next?.at ?? null }))
	};
};

export const actions: Actions = {
	default: async ({ locals: { app, viewer }, params, request }) => {
		if (!viewer) redirect(303, '/sign-in?next=/account');
		const step = String((await readForm(request)).get('step') ?? '');
		if (!isStep(step)) redirect(303, `/account/pause/${params.id}`);
		const paused = await pauseAgreement(app, viewer.id, params.id, step);
		if (!paused.ok && paused.code === 'unknown') error(404, NO_SUCH_PAGE);
		redirect(303, '/account');
	}
};
