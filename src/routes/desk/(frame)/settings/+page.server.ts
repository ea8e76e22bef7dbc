import { fail } from '@sveltejs/kit';
import { parse, readForm } from '$server/http/parse';
import { sitePart, siteRevision } from '$server/usecases/running/save-site';
import { LANGUAGE_CODES, LANGUAGES, languageOf } from '$words/languages';
import type { Actions, PageServerLoad } from './$types';
import { SiteForm } from './form';
import { savePart } from './save';

export const load: PageServerLoad = async ({ locals: { app } }) => ({
	kept: sitePart('site', await app.site()),
	revision: siteRevision('site', await app.site()),
	zones: Intl.supportedValuesOf('timeZone'),
	languages: LANGUAGE_CODES.map((code) => ({ value: code, label: LANGUAGES[code].name }))
});

export const actions: Actions = {
	save: async ({ locals, request }) => {
		const form = await readForm(request);
		const parsed = await parse(SiteForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { siteName, zone, language, ...legal } = parsed.data;
		return savePart(
			locals,
			form,
			'site',
			{ siteName, zone, language, legal },
			({ siteName, zone, language }) => `${siteName}, ${zone}, ${languageOf(language).name}.`
		);
	}
};
