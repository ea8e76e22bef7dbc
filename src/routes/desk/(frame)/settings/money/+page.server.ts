import { fail } from '@sveltejs/kit';
import { readRetryDays } from '$core/billing/agreement-facts';
import { readWays } from '$core/billing/pay-by';
import { CURRENCIES } from '$core/billing/money';
import { fieldError, parse, readForm } from '$server/http/parse';
import { sitePart, siteRevision } from '$server/usecases/running/save-site';
import type { Actions, PageServerLoad } from './$types';
import { MoneyForm } from '../form';
import { savePart } from '../save';

const NOT_DAYS = 'Write days from 1 to 60, such as 1, 3, 5; at most 8 of them.';

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
		const { currency, statementName, meanwhile } = parsed.data;
		const { sellerName, sellerAddress, taxNumber } = parsed.data;
		const seller = { name: sellerName.trim(), address: linesOf(sellerAddress), taxNumber: taxNumber.trim() };
		const retryDays = readRetryDays(parsed.data.retryDays);
		if (!retryDays) return fail(400, fieldError(form, 'retryDays', NOT_DAYS));
		const collecting = { retryDays, graceDays: 0, isOpenMeanwhile: meanwhile === 'open' };
		return savePart(
			locals,
			form,
			'money',
			{
				...{ currency, statementName, seller, collecting, mayPause: parsed.data.mayPause === 'yes' },
				remindsAfterHours:
					parsed.data.remindsAfterHours === '' ? null : Number(parsed.data.remindsAfterHours),
				payBy: readWays(parsed.data.payBy),
				offline: { name: parsed.data.offlineName, how: parsed.data.offlineHow }
			},
			(theirs) =>
				`${theirs.currency}, “${theirs.statementName}” on card statements, tried again after ${theirs.collecting.retryDays.join(', ')} days.`
		);
	}
};

function linesOf(text: string): string {
	return text
		.split('\n')
		.map((line) => line.trim())
		.filter((line) => line !== '')
		.join('\n');
}
