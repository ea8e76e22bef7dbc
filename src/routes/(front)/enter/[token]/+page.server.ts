import { error, fail, redirect } from '@sveltejs/kit';
import { ownPath, setSession } from '$server/http/cookies';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { allows } from '$server/http/rate-limit';
import { lookAtLink, mailAgain, pressLink } from '$server/usecases/accounts/sign-in-link';
import type { Actions, PageServerLoad } from './$types';

/** Opening the link only looks at it: mail scanners open links too. */
export const load: PageServerLoad = async ({ locals: { app }, params, getClientAddress }) => {
	if (!(await allows(app, 'enterByClient', getClientAddress())))
		error(429, 'Too many tries. Wait a quarter of an hour.');
	const state = await lookAtLink(app, params.token);
	if (state.kind === 'unknown') error(404, NO_SUCH_PAGE);
	return { kind: state.kind, email: state.email };
};

export const actions: Actions = {
	press: async ({ locals: { app }, params, cookies }) => {
		const pressed = await pressLink(app, params.token);
		if (!pressed) return fail(410, { mailed: false });
		setSession(cookies, app.settings.origin, pressed.session);
		redirect(303, ownPath(pressed.next, '/account'));
	},
	again: async ({ locals: { app }, params, getClientAddress }) => ({
		mailed: (await mailAgain(app, params.token, getClientAddress())).ok
	})
};
