import { error, redirect } from '@sveltejs/kit';
import { frontError } from '$server/http/front-error';
import { knownDevice, setSession } from '$server/http/cookies';
import { openFree, thank } from '$server/usecases/sales/look-at-order';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, cookies }) => {
	const thanks = await thank(app, params.order, knownDevice(cookies), viewer?.id ?? null);
	if (!thanks) error(404, frontError('error.order-not-paid'));
	const { session, ...shown } = thanks;
	if (session) setSession(cookies, app.settings.origin, session);
	return shown;
};

export const actions: Actions = {
	open: async ({ locals: { app }, params, cookies }) => {
		const opened = await openFree(app, params.order, knownDevice(cookies));
		if (!opened) return { isByMail: true };
		setSession(cookies, app.settings.origin, opened.session);
		redirect(303, opened.landing);
	}
};
