import { error, fail } from '@sveltejs/kit';
import { fieldError, parse, readForm } from '$server/http/parse';
import { advanceClock } from '$server/usecases/running/advance-clock';
import type { Actions, PageServerLoad } from './$types';
import { ClockForm } from '../form';

const DAY_MS = 86_400_000;
const CLOCK_PROBLEMS = {
	'not-movable': 'The clock of this Stile cannot be moved.',
	'only-forward': 'The clock only goes forward: type at least 1 day.',
	'too-far': 'At most 370 days at once.'
};

export const load: PageServerLoad = ({ locals: { app } }) => {
	if (!app.settings.hasMovableClock) error(404, 'Only the demo has a clock that can be moved.');
};

export const actions: Actions = {
	default: async ({ locals: { app, runner, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(ClockForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const to = app.clock.business() + Number(parsed.data.days) * DAY_MS;
		const moved = await advanceClock(app, runner, viewer, to);
		if (!moved.ok) return fail(409, fieldError(form, 'days', CLOCK_PROBLEMS[moved.code]));
		return { movedTo: moved.now, jobs: moved.jobs };
	}
};
