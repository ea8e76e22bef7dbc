import { error, fail, redirect } from '@sveltejs/kit';
import { CURRENCIES } from '$core/billing/money';
import { setSession } from '$server/http/cookies';
import { parse, readForm } from '$server/http/parse';
import { isOwnerToken, makeFirstOwner } from '$server/usecases/accounts/first-owner';
import type { Actions, PageServerLoad } from './$types';
import { FirstOwnerForm } from './form';

const SPENT =
	'This address has done its work: there is an owner, or a newer address in the log. Sign in at the Desk.';

export const load: PageServerLoad = async ({ locals: { app }, url }) => {
	const token = url.searchParams.get('token') ?? '';
	if (!(await isOwnerToken(app, token))) error(403, SPENT);
	return { token, currencies: CURRENCIES, zones: Intl.supportedValuesOf('timeZone') };
};

export const actions: Actions = {
	default: async ({ locals: { app }, request, cookies }) => {
		const parsed = await parse(FirstOwnerForm, await readForm(request));
		if (!parsed.ok) return fail(400, parsed);
		const session = await makeFirstOwner(app, parsed.data);
		if (!session) error(403, SPENT);
		setSession(cookies, app, session);
		redirect(303, '/desk');
	}
};
