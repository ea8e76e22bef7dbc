import { fail, redirect } from '@sveltejs/kit';
import { fieldError } from '$server/http/parse';
import { saveFence } from '$server/usecases/fences/save-fence';
import type { Actions, PageServerLoad } from './$types';
import { FENCE_PROBLEMS, parseFence } from '../form';

export const load: PageServerLoad = ({ url }) => ({
	preset: { itemIds: url.searchParams.getAll('item'), planIds: url.searchParams.getAll('plan') }
});

export const actions: Actions = {
	save: async ({ locals: { app, viewer }, request }) => {
		const form = await request.formData();
		const parsed = await parseFence(form);
		if (!parsed.ok) return fail(400, parsed);
		const saved = await saveFence(app, viewer, null, parsed.wish);
		if (!saved.ok) return fail(409, fieldError(form, ...FENCE_PROBLEMS[saved.code]));
		redirect(303, `/desk/fences/${saved.fenceId}`);
	}
};
