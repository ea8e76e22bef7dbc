import { fail, redirect } from '@sveltejs/kit';
import { fieldError, parse, readForm } from '$server/http/parse';
import { listAsk } from '$server/reads/desk/list-ask';
import { membersPage } from '$server/reads/desk/members';
import { readDate } from '$server/http/read-window';
import { addMember } from '$server/usecases/accounts/run-members';
import type { Actions, PageServerLoad } from './$types';
import { AddForm } from './form';

export const load: PageServerLoad = ({ locals: { app }, url, depends }) => {
	depends('desk:members');
	return membersPage(app, listAsk(url));
};

export const actions: Actions = {
	add: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(AddForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { email, name, plan, until } = parsed.data;
		const end = until === '' ? null : readDate(until, (await app.site()).zone);
		if (end && !end.ok) return fail(400, fieldError(form, 'until', end.message));
		if (end && end.value.at <= app.clock.business())
			return fail(400, fieldError(form, 'until', 'This lies in the past. Choose a later date, or none.'));
		const added = await addMember(app, viewer, {
			email,
			name,
			planId: plan || null,
			until: end?.value.at ?? null
		});
		if (!added.ok)
			return fail(
				409,
				fieldError(form, 'email', 'Somebody with this address is here already. Find them below.')
			);
		redirect(303, `/desk/members/${added.memberId}`);
	}
};
