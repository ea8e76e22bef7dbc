import { error, fail, redirect } from '@sveltejs/kit';
import { knownDevice, ownPath, sessionCookie } from '$server/http/cookies';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { letIn } from '$server/http/let-in';
import { mayTry } from '$server/http/may-try';
import { readForm } from '$server/http/parse';
import type { Device } from '$server/usecases/accounts/proving';
import { afterSignIn } from '$server/usecases/sales/landing';
import { lookAtLink, mailAgain, pressLink } from '$server/usecases/accounts/sign-in-link';
import type { Actions, PageServerLoad, RequestEvent } from './$types';

/** Opening the link only looks at it: mail scanners open links too. */
export const load: PageServerLoad = async (event) => {
	await mayTry(event, 'enterByClient');
	const state = await lookAtLink(event.locals.app, event.params.token, deviceOf(event));
	if (state.kind === 'unknown') error(404, NO_SUCH_PAGE);
	const isGood = state.kind === 'good';
	return {
		...{ kind: state.kind, email: state.email },
		...{ asks: isGood && state.asks, order: isGood ? state.order : null, keeps: isGood ? state.keeps : null }
	};
};

export const actions: Actions = {
	press: async (event) => {
		const { cookies, params, request, locals } = event;
		const { app } = locals;
		await mayTry(event, 'enterByClient');
		const endsForeign = (await readForm(request)).get('others') !== 'keep';
		const pressed = await pressLink(app, params.token, deviceOf(event), endsForeign);
		if (!pressed) return fail(410, { mailed: false });
		letIn(cookies, app, pressed.admitted, ownPath(pressed.next, ''));
		const { accountId: memberId } = pressed;
		const isStaff = (await app.rights.standing(memberId))?.role !== 'member';
		redirect(303, await afterSignIn(app, { memberId, isStaff, next: ownPath(pressed.next, '') }));
	},
	again: async (event) => {
		await mayTry(event, 'enterByClient');
		return { mailed: (await mailAgain(event.locals.app, event.params.token, event.getClientAddress())).ok };
	}
};

function deviceOf({ cookies, locals: { app } }: Pick<RequestEvent, 'cookies' | 'locals'>): Device {
	return {
		orderToken: knownDevice(cookies),
		sessionToken: cookies.get(sessionCookie(app)) ?? null
	};
}
