import { fail } from '@sveltejs/kit';
import { MOST_RATES, rateOn, rateProblems, type TaxRate } from '$core/billing/tax';
import { UNION_RATES } from '$core/billing/union-rates';
import { localDay } from '$core/time/calendar';
import { fieldError, parse, readForm } from '$server/http/parse';
import { record } from '$server/http/read-window';
import { sitePart, siteRevision } from '$server/usecases/running/save-site';
import type { Actions, PageServerLoad } from './$types';
import { TaxForm } from '../form';
import { savePart } from '../save';

export const load: PageServerLoad = async ({ locals: { app } }) => ({
	kept: sitePart('tax', await app.site()),
	revision: siteRevision('tax', await app.site()),
	unionRates: UNION_RATES
});

export const actions: Actions = {
	save: async ({ locals, request }) => {
		const form = await readForm(request);
		const parsed = await parse(TaxForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { way, home, isHomeRateInUnion } = parsed.data;
		const rates = ratesIn(parsed.data.rates);
		if (!rates)
			return fail(400, fieldError(form, 'rates', 'A row of the rates cannot be read. Take it out.'));
		const site = await locals.app.site();
		const today = localDay(locals.app.clock.business(), site.zone);
		if (way !== 'none' && !rateOn(rates, home, today))
			return fail(400, fieldError(form, 'rates', 'Your own country has no rate for today. Add it.'));
		const tax = { way, home: home || null, isHomeRateInUnion: isHomeRateInUnion === 'yes', rates };
		return savePart(
			locals,
			form,
			'tax',
			{ tax },
			({ tax: theirs }) => `${WAY_WORDS[theirs.way]}, and ${theirs.rates.length} rates.`
		);
	}
};

const WAY_WORDS = {
	none: 'No tax is asked for',
	included: 'Prices have the tax in them',
	added: 'Tax comes on top of prices'
};

/** `null`: it is no table, or a row of it is none. */
function ratesIn(sent: string): TaxRate[] | null {
	let read: unknown;
	try {
		read = JSON.parse(sent);
	} catch {
		return null;
	}
	if (!Array.isArray(read) || read.length > MOST_RATES) return null;
	const rates = read.map((row): TaxRate => {
		const { country, name, rate, from } = record(row);
		const text = (value: unknown) => (typeof value === 'string' ? value : '');
		return { country: text(country), name: text(name).trim(), rate: Number(rate), from: text(from) };
	});
	return rateProblems(rates).every((problem) => problem === null) ? rates : null;
}
