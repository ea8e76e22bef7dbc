import { fail } from '@sveltejs/kit';
import { readForm } from '$server/http/parse';
import { tellablePlans } from '$server/reads/desk/listeners';
import { makeListener } from '$server/usecases/running/listeners';
import type { Actions, PageServerLoad } from './$types';
import { listenerProblem, readListener } from '../listener';

export const load: PageServerLoad = async ({ locals: { app } }) => ({ plans: await tellablePlans(app) });

export const actions: Actions = {
	default: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const read = await readListener(form);
		if (!read.ok) return fail(400, read);
		const made = await makeListener(app, viewer, read.wish);
		if (made.kind === 'refused') return fail(400, listenerProblem(form, made.code));
		return { made: { ...made, isCalled: read.wish.url !== '' } };
	}
};
