import { redirect } from '@sveltejs/kit';
import { accountView } from '$server/reads/front/account-view';
import { resumeAgreement } from '$server/usecases/sales/cancel-agreement';
import { readForm } from '$server/http/parse';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer, look }, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	return accountView(app, look, viewer.id);
};

export const actions: Actions = {
	resume: async ({ locals: { app, viewer }, request }) => {
		if (!viewer) redirect(303, '/sign-in?next=/account');
		const id = String((await readForm(request)).get('subscription') ?? '');
		const resumed = await resumeAgreement(app, viewer.id, id);
		// Ended or gone on meanwhile: the page says how it stands.
		if (!resumed.ok) app.log.info({ code: resumed.code }, 'a cancellation was not taken back');
		redirect(303, '/account');
	}
};
