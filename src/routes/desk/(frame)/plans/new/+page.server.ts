import { fail, redirect } from '@sveltejs/kit';
import { createPlan } from '$server/usecases/plans/save-plan';
import { readForm } from '$server/http/parse';
import type { Actions } from './$types';
import { parsePlan } from '../form';

export const actions: Actions = {
	save: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parsePlan(await readForm(request), (await app.site()).zone);
		if (!parsed.ok) return fail(400, parsed);
		redirect(303, `/desk/plans/${await createPlan(app, viewer, parsed.wish)}`);
	}
};
