import { redirect } from '@sveltejs/kit';
import { clearSession, sessionCookie } from '$server/http/cookies';
import { signOut } from '$server/usecases/accounts/sign-in';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = async ({ locals: { app, viewer }, cookies }) => {
	const token = cookies.get(sessionCookie(app));
	if (token && viewer) await signOut(app, token, viewer.id);
	clearSession(cookies, app);
	redirect(303, '/');
};
