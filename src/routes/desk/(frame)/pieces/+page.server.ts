import { error } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import type { Actions, PageServerLoad } from './$types';

/** Only where Stile shows itself. */
export const load: PageServerLoad = ({ locals: { app } }) => {
	if (!app.settings.hasMovableClock) error(404, NO_SUCH_PAGE);
	return { zones: Intl.supportedValuesOf('timeZone') };
};

export const actions: Actions = { nothing: () => ({}) };
