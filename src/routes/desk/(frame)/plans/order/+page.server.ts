import { redirect } from '@sveltejs/kit';
import { readForm } from '$server/http/parse';
import { orderPlans } from '$server/usecases/plans/save-plan';
import type { Actions } from './$types';

export const actions: Actions = {
	default: async ({ locals: { app, viewer }, request }) => {
		const ids = (await readForm(request)).getAll('plan').map(String);
		await orderPlans(app, viewer, ids);
		redirect(303, '/desk/plans');
	}
};
