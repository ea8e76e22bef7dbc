import { fail } from '@sveltejs/kit';
import { CURRENCIES } from '$core/billing/money';
import { type FieldErrors, agreedTo, begunWith, fieldError, parse, readForm } from '$server/http/parse';
import { readTurnAway, TURN_AWAY_PROBLEMS } from '$server/http/read-fence';
import { readSiteLimits, record } from '$server/http/read-window';
import { LANGUAGE_CODES, LANGUAGES } from '$words/languages';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { allApiKeys, makeApiKey, revokeApiKey } from '$server/usecases/running/api-keys';
import { advanceClock } from '$server/usecases/running/advance-clock';
import { saveSite, siteRevision } from '$server/usecases/running/save-site';
import type { Actions, PageServerLoad } from './$types';
import { ClockForm, KeyForm, SiteForm } from './form';

const DAY_MS = 86_400_000;
const CLOCK_PROBLEMS = {
	'not-movable': 'The clock of this Stile cannot be moved.',
	'only-forward': 'The clock only goes forward: type at least 1 day.',
	'too-far': 'At most 370 days at once.'
};

export const load: PageServerLoad = async ({ locals: { app } }) => ({
	settings: await app.site(),
	revision: siteRevision(await app.site()),
	keys: await allApiKeys(app),
	currencies: CURRENCIES,
	zones: Intl.supportedValuesOf('timeZone'),
	languages: LANGUAGE_CODES.map((code) => ({ code, name: LANGUAGES[code].name }))
});

export const actions: Actions = {
	site: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(SiteForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { turnAway: rawTurnAway, limits: rawLimits, releaseHour, lapseAfterDays, ...rest } = parsed.data;
		const errors: FieldErrors = {};
		const turnAway = readTurnAway(record(json(rawTurnAway)), errors);
		if (!turnAway.ok) return fail(400, fieldError(form, 'turnAway', turnAway.message));
		if (Object.keys(errors).length > 0) return fail(400, { ...fieldError(form, '', ''), errors });
		const limits = readSiteLimits(json(rawLimits));
		if (!limits.ok) return fail(400, fieldError(form, 'limits', limits.message));
		const value = {
			...rest,
			turnAway: turnAway.value,
			limits: limits.value,
			releaseHour: releaseHour === '' ? null : Number(releaseHour),
			lapseAfterDays: Number(lapseAfterDays)
		};
		const saved = await saveSite(app, viewer, value, agreedTo(form), begunWith(form));
		if (saved.kind === 'changed') {
			const { siteName, zone } = saved.theirs;
			const theirs = { revision: siteRevision(saved.theirs), words: `${siteName}, ${zone}.` };
			return fail(409, { ...fieldError(form, '', ''), errors: {}, theirs });
		}
		if (saved.kind === 'refused')
			return fail(409, fieldError(form, 'turnAway', TURN_AWAY_PROBLEMS[saved.code]));
		if (saved.kind === 'rehearsed')
			return fail(409, {
				...fieldError(form, '', ''),
				errors: {},
				rehearsal: await rehearsalView(app, saved.rehearsal)
			});
		return { saved: 'Saved.' };
	},
	key: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(KeyForm, await readForm(request));
		if (!parsed.ok) return fail(400, parsed);
		return { key: await makeApiKey(app, viewer, parsed.data.keyName) };
	},
	revoke: async ({ locals: { app, viewer }, request }) => {
		await revokeApiKey(app, viewer, String((await readForm(request)).get('id') ?? ''));
		return { saved: 'The key does not work any more.' };
	},
	clock: async ({ locals: { app, runner, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(ClockForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const to = app.clock.business() + Number(parsed.data.days) * DAY_MS;
		const moved = await advanceClock(app, (queue) => runner.runDue(queue), viewer, to);
		if (!moved.ok) return fail(409, fieldError(form, 'days', CLOCK_PROBLEMS[moved.code]));
		return { movedTo: moved.now, jobs: moved.jobs };
	}
};

function json(text: string): unknown {
	try {
		return JSON.parse(text);
	} catch {
		return null;
	}
}
