import { fail, redirect } from '@sveltejs/kit';
import { RESOURCE_KINDS } from '$core/access/model';
import { namesIn } from '$server/reads/desk/names';
import { fieldError, parse, readForm } from '$server/http/parse';
import { createItem } from '$server/usecases/library/edit-item';
import { ITEM_PROBLEMS, ItemForm, contentProblem, wishOf } from '../item-form';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app }, url }) => {
	const homeId = url.searchParams.get('home') ?? '';
	return {
		kind: RESOURCE_KINDS.find((kind) => kind === url.searchParams.get('kind')) ?? null,
		homeId,
		places: (await namesIn(app, homeId)).resources
	};
};

export const actions: Actions = {
	default: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(ItemForm, form);
		// What was chosen is called by its name again.
		const { resources: places } = await namesIn(app, form.get('home'));
		if (!parsed.ok) return fail(400, { ...parsed, places });
		const wrong = contentProblem(parsed.data);
		if (wrong) return fail(400, { ...fieldError(form, ...wrong), places });
		const made = await createItem(app, viewer, wishOf(parsed.data));
		if (made.kind === 'refused')
			return fail(409, { ...fieldError(form, ...ITEM_PROBLEMS[made.code]), places });
		// A draft moves nobody's access, so there is nothing to agree to.
		redirect(303, made.kind === 'saved' ? `/desk/library/${made.itemId}` : '/desk/library');
	}
};
