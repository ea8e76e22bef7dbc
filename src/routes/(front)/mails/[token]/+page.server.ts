import { error } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { readForm } from '$server/http/parse';
import { reminded, wishReminders } from '$server/usecases/sales/remind';
import type { Actions, PageServerLoad } from './$types';

/** Opening it only looks: scanners of mails open addresses, too. */
export const load: PageServerLoad = async ({ locals: { app }, params }) => {
	const found = await reminded(app, params.token);
	if (!found) error(404, NO_SUCH_PAGE);
	return { isOff: found.isOff };
};

export const actions: Actions = {
	/** One press ends them: on the page, or in a mail program, which sends no cookies (RFC 8058 §3.2). */
	default: async ({ locals: { app }, params, request }) => {
		const found = await reminded(app, params.token);
		if (!found) error(404, NO_SUCH_PAGE);
		await wishReminders(app, found.memberId, (await readForm(request)).get('wants') === 'yes');
		return { isDone: true };
	}
};
