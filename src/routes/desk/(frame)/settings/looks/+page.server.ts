import { fail } from '@sveltejs/kit';
import { readColour } from '$core/looks/colour';
import { fieldError, parse, readForm } from '$server/http/parse';
import { sitePart, siteRevision } from '$server/usecases/running/save-site';
import type { Actions, PageServerLoad } from './$types';
import { LooksForm, NO_COLOUR } from '../form';
import { savePart } from '../save';

export const load: PageServerLoad = async ({ locals: { app } }) => ({
	kept: sitePart('looks', await app.site()),
	revision: siteRevision('looks', await app.site())
});

export const actions: Actions = {
	save: async ({ locals, request }) => {
		const form = await readForm(request);
		const parsed = await parse(LooksForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const colour = parsed.data.hasColour === 'yes' ? readColour(parsed.data.colour) : null;
		if (colour === null && parsed.data.hasColour === 'yes')
			return fail(400, fieldError(form, 'colour', NO_COLOUR));
		return savePart(locals, form, 'looks', { looks: { colour } }, ({ looks }) =>
			looks.colour ? `The colour ${looks.colour}.` : 'No colour of its own.'
		);
	}
};
