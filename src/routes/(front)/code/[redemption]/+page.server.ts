import { error, redirect } from '@sveltejs/kit';
import { codeDevice, ownPath } from '$server/http/cookies';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { redeemedPage } from '$server/reads/front/redeemed';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, look }, params, cookies, url }) => {
	const isId = /^[0-9a-f-]{36}$/.test(params.redemption);
	const page = isId ? await redeemedPage(app, look, params.redemption, codeDevice(cookies)) : null;
	if (!page) error(404, NO_SUCH_PAGE);
	if (page === 'sign-in') redirect(303, `/sign-in?${new URLSearchParams({ next: url.pathname })}`);
	const { first, ...shown } = page;
	return {
		...shown,
		isMailed: shown.waits && url.searchParams.has('mailed'),
		goesTo: shown.isOver ? null : ownPath(url.searchParams.get('next'), first ?? '') || null
	};
};
