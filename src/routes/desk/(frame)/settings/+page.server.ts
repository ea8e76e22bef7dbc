import { fail } from '@sveltejs/kit';
import { CURRENCIES } from '$core/billing/money';
import { fieldError, parse } from '$server/http/parse';
import { advanceClock } from '$server/usecases/running/advance-clock';
import { saveSite } from '$server/usecases/running/save-site';
import type { Actions, PageServerLoad } from './$types';
import { ClockForm, SiteForm } from './form';

const DAY_MS = 86_400_000;
const CLOCK_PROBLEMS = {
	'not-movable': 'The clock of this Stile cannot be moved.',
	'only-forward': 'The clock only goes forward: type at least 1 day.',
	'too-far': 'At most 370 days at once.'
};

export const load: PageServerLoad = async ({ locals: { app } }) => ({
	settings: await app.site(),
	currencies: CURRENCIES,
	zones: Intl.supportedValuesOf('timeZone')
});

export const actions: Actions = {
	site: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(SiteForm, await request.formData());
		if (!parsed.ok) return fail(400, parsed);
		await saveSite(app, viewer, { ...parsed.data });
		return { saved: 'Saved.' };
	},
	clock: async ({ locals: { app, runner, viewer }, request }) => {
		const form = await request.formData();
		const parsed = await parse(ClockForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const to = app.clock.business() + Number(parsed.data.days) * DAY_MS;
		const moved = await advanceClock(app, (queue) => runner.runDue(queue), viewer, to);
		if (!moved.ok) return fail(409, fieldError(form, 'days', CLOCK_PROBLEMS[moved.code]));
		return { movedTo: moved.now, jobs: moved.jobs };
	}
};
