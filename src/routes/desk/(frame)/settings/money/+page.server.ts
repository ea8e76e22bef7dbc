import { fail } from '@sveltejs/kit';
import { CURRENCIES } from '$core/billing/money';
import { parse, readForm } from '$server/http/parse';
import { sitePart, siteRevision } from '$server/usecases/running/save-site';
import type { Actions, PageServerLoad } from './$types';
import { MoneyForm } from '../form';
import { savePart } from '../save';

export const load: PageServerLoad = async ({ locals: { app } }) => ({
	kept: sitePart('money', await app.site()),
	revision: siteRevision('money', await app.site()),
	currencies: CURRENCIES
});

export const actions: Actions = {
	save: async ({ locals, request }) => {
		const form = await readForm(request);
		const parsed = await parse(MoneyForm, form);
		if (!parsed.ok) return fail(400, parsed);
		return savePart(
			locals,
			form,
			'money',
			parsed.data,
			({ currency, statementName }) => `${currency}, “${statementName}” on card statements.`
		);
	}
};
