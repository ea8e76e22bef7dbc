import { error } from '@sveltejs/kit';
import { frontError } from '$server/http/front-error';
import { knownDevice, setSession } from '$server/http/cookies';
import { thank } from '$server/usecases/sales/look-at-order';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, cookies }) => {
	const thanks = await thank(app, params.order, knownDevice(cookies), viewer?.id ?? null);
	if (!thanks) error(404, frontError('error.order-not-paid'));
	const { session, ...shown } = thanks;
	if (session) setSession(cookies, app.settings.origin, session);
	return shown;
};
