import { fail, redirect } from '@sveltejs/kit';
import { RESOURCE_KINDS } from '$core/access/model';
import { fieldError, parse, readForm } from '$server/http/parse';
import { createItem } from '$server/usecases/library/edit-item';
import { ITEM_PROBLEMS, ItemForm, contentProblem, wishOf } from '../item-form';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = ({ url }) => ({
	kind: RESOURCE_KINDS.find((kind) => kind === url.searchParams.get('kind')) ?? null,
	homeId: url.searchParams.get('home') ?? ''
});

export const actions: Actions = {
	default: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(ItemForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const wrong = contentProblem(parsed.data);
		if (wrong) return fail(400, fieldError(form, ...wrong));
		const made = await createItem(app, viewer, wishOf(parsed.data));
		if (made.kind === 'refused') return fail(409, fieldError(form, ...ITEM_PROBLEMS[made.code]));
		// A draft moves nobody's access, so there is nothing to agree to.
		redirect(303, made.kind === 'saved' ? `/desk/library/${made.itemId}` : '/desk/library');
	}
};
