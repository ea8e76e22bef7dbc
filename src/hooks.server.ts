import { error, redirect, type Handle, type HandleServerError, type ServerInit } from '@sveltejs/kit';
import { building } from '$app/environment';
import { hashOf, sessionCookie } from '$server/http/sessions';
import { running, startStile } from '$server/instance';

export const init: ServerInit = async () => {
	if (!building) await startStile(process.env);
};

/** Who asks, and whether they may: decided here, before any load, action or `__data.json` runs. */
export const handle: Handle = async ({ event, resolve }) => {
	const { app, runner } = running();
	const path = event.url.pathname;
	const token = event.cookies.get(sessionCookie(app.settings.origin));
	const accountId = token ? await app.rights.sessionAccount(hashOf(token)) : null;
	const standing = accountId === null ? null : await app.rights.standing(accountId);
	event.locals.app = app;
	event.locals.runner = runner;
	event.locals.viewer = standing && {
		id: standing.viewer.id,
		name: standing.name,
		email: standing.email,
		isStaff: standing.viewer.isStaff
	};
	event.locals.access = null;

	const isDesk = path === '/desk' || path.startsWith('/desk/');
	if (isDesk && path !== '/desk/first-owner' && !standing?.viewer.isStaff) {
		if (!standing) redirect(303, `/sign-in?next=${encodeURIComponent(path)}`);
		error(403, 'The Desk is for the people who run this site. You are signed in as a member.');
	}
	const item = (await app.rights.policy()).byAddress.get(path)?.item;
	if (item) {
		event.locals.access = {
			itemId: item.id,
			decision: await app.rights.decide(standing?.viewer.id ?? null, item.id)
		};
	}
	const response = await resolve(event);
	response.headers.set('x-content-type-options', 'nosniff');
	response.headers.set('x-frame-options', 'DENY');
	// Not `no-referrer`: a browser then sends `Origin: null` with forms, which the origin check refuses.
	response.headers.set('referrer-policy', 'same-origin');
	if (standing || item) response.headers.set('cache-control', 'private, no-store');
	return response;
};

export const handleError: HandleServerError = ({ error: cause, event, status, message }) => {
	if (status === 404) return { message };
	running().app.log.error({ err: cause, path: event.url.pathname }, 'a page failed');
	return { message: 'Something went wrong on our side. Nothing was saved. Try again in a moment.' };
};
