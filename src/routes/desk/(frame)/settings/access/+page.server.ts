import { fail } from '@sveltejs/kit';
import { type FieldErrors, fieldError, parse, readForm } from '$server/http/parse';
import { readTurnAway } from '$server/http/read-fence';
import { readSiteLimits, record } from '$server/http/read-window';
import { sitePart, siteRevision } from '$server/usecases/running/save-site';
import type { Actions, PageServerLoad } from './$types';
import { AccessForm } from '../form';
import { savePart } from '../save';

export const load: PageServerLoad = async ({ locals: { app } }) => ({
	kept: sitePart('access', await app.site()),
	revision: siteRevision('access', await app.site())
});

export const actions: Actions = {
	save: async ({ locals, request }) => {
		const form = await readForm(request);
		const parsed = await parse(AccessForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { releaseHour, lapseAfterDays } = parsed.data;
		const errors: FieldErrors = {};
		const turnAway = readTurnAway(record(json(parsed.data.turnAway)), errors);
		if (!turnAway.ok) return fail(400, fieldError(form, 'turnAway', turnAway.message));
		if (Object.keys(errors).length > 0) return fail(400, { ...fieldError(form, '', ''), errors });
		const limits = readSiteLimits(json(parsed.data.limits));
		if (!limits.ok) return fail(400, fieldError(form, 'limits', limits.message));
		const value = {
			turnAway: turnAway.value,
			limits: limits.value,
			releaseHour: releaseHour === '' ? null : Number(releaseHour),
			lapseAfterDays: Number(lapseAfterDays)
		};
		return savePart(locals, form, 'access', value, (theirs) =>
			[
				theirs.releaseHour === null
					? 'Releases open at the time of day of joining'
					: `releases open at ${theirs.releaseHour}:00`,
				`a gap is a lapse from ${theirs.lapseAfterDays} days.`
			].join(', ')
		);
	}
};

function json(text: string): unknown {
	try {
		return JSON.parse(text);
	} catch {
		return null;
	}
}
