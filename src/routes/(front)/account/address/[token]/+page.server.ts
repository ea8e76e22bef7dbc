import { error, fail } from '@sveltejs/kit';
import { sessionCookie } from '$server/http/cookies';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { mayTry } from '$server/http/may-try';
import { lookAtAddressLink, pressAddressLink } from '$server/usecases/accounts/change-address';
import type { Actions, PageServerLoad, RequestEvent } from './$types';

function sessionOf({ cookies, locals: { app } }: RequestEvent): string | null {
	return cookies.get(sessionCookie(app)) ?? null;
}

/** Opening the link only looks at it: mail scanners open links too. */
export const load: PageServerLoad = async (event) => {
	await mayTry(event, 'enterByClient');
	const link = await lookAtAddressLink(event.locals.app, event.params.token, sessionOf(event));
	if (link.kind === 'unknown') error(404, NO_SUCH_PAGE);
	return { link };
};

export const actions: Actions = {
	press: async (event) => {
		await mayTry(event, 'enterByClient');
		const pressed = await pressAddressLink(event.locals.app, event.params.token, sessionOf(event));
		return pressed.ok
			? { done: pressed }
			: fail(pressed.code === 'spent' ? 410 : 409, { code: pressed.code });
	}
};
