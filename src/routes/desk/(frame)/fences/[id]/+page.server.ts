import { error, fail } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { fieldError } from '$server/http/parse';
import { saveFence } from '$server/usecases/fences/save-fence';
import type { Actions, PageServerLoad } from './$types';
import { FENCE_PROBLEMS, parseFence } from '../form';

export const load: PageServerLoad = async ({ parent, params }) => {
	const fence = (await parent()).fences.find(({ id }) => id === params.id);
	if (!fence) error(404, NO_SUCH_PAGE);
	return { fence };
};

export const actions: Actions = {
	save: async ({ locals: { app, viewer }, request, params }) => {
		const form = await request.formData();
		const parsed = await parseFence(form);
		if (!parsed.ok) return fail(400, parsed);
		const saved = await saveFence(app, viewer, params.id, parsed.wish);
		if (!saved.ok) return fail(409, fieldError(form, ...FENCE_PROBLEMS[saved.code]));
		return { saved: 'Saved. It counts from now on.' };
	}
};
