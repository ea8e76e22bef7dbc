import { error } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { readForm } from '$server/http/parse';
import { pressWaiting, waitingAt } from '$server/usecases/sales/waiting-list';
import type { Actions, PageServerLoad } from './$types';

/** Opening it only looks: scanners of mails open addresses, too. */
export const load: PageServerLoad = async ({ locals: { app }, params }) => {
	const found = await waitingAt(app, params.token);
	if (!found) error(404, NO_SUCH_PAGE);
	return { waiting: found };
};

export const actions: Actions = {
	/** One press ends it: on the page, or in a mail program, which sends no cookies (RFC 8058 §3.2). */
	default: async ({ locals: { app }, params, request }) => {
		const wants = (await readForm(request)).get('wants') === 'yes';
		if (!(await pressWaiting(app, params.token, wants))) error(404, NO_SUCH_PAGE);
		return { isDone: true };
	}
};
