import { error, fail, redirect } from '@sveltejs/kit';
import { parse, readForm } from '$server/http/parse';
import { practicePayPage } from '$server/reads/desk/practice';
import { payInPractice } from '$server/usecases/practice/practise';
import type { Actions, PageServerLoad } from './$types';
import { CardForm } from './form';

const NO_PAGE = 'There is no such payment in the practice book. It may have been deleted.';

export const load: PageServerLoad = async ({ locals: { app }, params }) => {
	if (!app.isPractice) error(404, 'Whoever practises pays here: begin to practise first.');
	const payment = await practicePayPage(app, params.ref);
	if (!payment) error(404, NO_PAGE);
	return { payment };
};

export const actions: Actions = {
	pay: async ({ locals: { app, viewer }, params, request }) => {
		if (!app.isPractice) error(404, NO_PAGE);
		const parsed = await parse(CardForm, await readForm(request));
		if (!parsed.ok) return fail(400, parsed);
		const { card, later, country } = parsed.data;
		const paying = { card, later: Number(later), country: country === '' ? null : country.toUpperCase() };
		redirect(303, (await payInPractice(app, viewer, params.ref, paying)) ?? error(404, NO_PAGE));
	},
	step: async ({ locals: { app, viewer }, params, request }) => {
		if (!app.isPractice) error(404, NO_PAGE);
		const step = (await readForm(request)).get('step') === 'yes' ? ('yes' as const) : ('no' as const);
		redirect(303, (await payInPractice(app, viewer, params.ref, { step })) ?? error(404, NO_PAGE));
	}
};
