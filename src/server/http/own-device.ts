import { redirect, type RequestEvent } from '@sveltejs/kit';
import type { Own } from '../usecases/accounts/own-account';
import { sessionCookie } from './cookies';

/** Whose account it is and from which device; whoever is not signed in does that first. */
export function ownDevice(
	{ locals: { app, viewer }, cookies }: Pick<RequestEvent, 'locals' | 'cookies'>,
	here: string
): Own {
	if (!viewer) redirect(303, `/sign-in?next=${here}`);
	return { accountId: viewer.id, sessionToken: cookies.get(sessionCookie(app)) ?? '' };
}
