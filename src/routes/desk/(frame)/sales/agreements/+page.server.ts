import { parse, readForm } from '$server/http/parse';
import { agreementIds, agreementsPage } from '$server/reads/desk/sales-lists';
import { steerMany } from '$server/usecases/sales/run-many-sales';
import type { Actions, PageServerLoad } from './$types';
import { answered, chosenIn, digestIn, refusal } from '../chosen';
import { SteerManyForm } from '../form';

export const load: PageServerLoad = ({ locals: { app }, url }) => agreementsPage(app, url);

export const actions: Actions = {
	steer: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const action = '/desk/sales/agreements?/steer';
		const parsed = await parse(SteerManyForm, form);
		if (!parsed.ok) return refusal({ did: 'cancel', action }, Object.values(parsed.errors).flat()[0] ?? '');
		const { step } = parsed.data;
		const wish = { agreementIds: await chosenIn(app, form, agreementIds), step };
		const done = await steerMany(app, viewer, wish, digestIn(form));
		return answered({ did: step, action, isOf: 'subscription' }, done);
	}
};
