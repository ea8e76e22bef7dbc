import { error, fail } from '@sveltejs/kit';
import { IsIn, Matches, MaxLength } from 'class-validator';
import type { Discount } from '$core/billing/discount';
import { readOff, type TypedOff } from '$core/billing/discount-typed';
import { CURRENCIES } from '$core/billing/money';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { offMessage } from '$server/http/money-messages';
import { fieldError, parse, readForm } from '$server/http/parse';
import { extrasPage } from '$server/reads/desk/extras';
import { addExtra, endExtra, putExtraFirst, type ExtraProblem } from '$server/usecases/plans/save-extras';
import type { Actions, PageServerLoad } from './$types';

const PROBLEMS: Record<ExtraProblem, string> = {
	unknown: 'There is no such price on sale any more. Choose another one.',
	itself: 'This is the plan itself: its buyers have it by then.',
	elsewhere: 'It is bought at another checkout, and cannot be charged here.',
	twice: 'It is offered already.',
	'too-many': 'At most five: buyers want on to what they bought. Take one away first.',
	'other-currency': 'The price is in another currency.'
};

class ExtraForm {
	@Matches(/^[0-9a-f-]{36}$/, { message: 'Choose what is offered.' })
	price = '';

	@MaxLength(500, { message: 'At most 500 characters.' })
	words = '';

	@IsIn(['', 'yes'], { message: 'Choose whether it costs less there.' })
	isLess = '';

	@IsIn(['percent', 'amount'], { message: 'Choose percent or an amount.' })
	offKind = 'percent' as TypedOff['offKind'];

	@MaxLength(10, { message: 'A whole number from 1 to 100.' })
	percent = '';

	@MaxLength(20, { message: 'Write it in digits, such as 12 or 12.50.' })
	offAmount = '';

	@IsIn(['', ...CURRENCIES], { message: 'Choose a currency.' })
	offCurrency = '';

	@IsIn(['first', 'some', 'all'], { message: 'Choose of which payments.' })
	offOf = 'first' as TypedOff['offOf'];

	@MaxLength(4, { message: 'That is too many.' })
	offPayments = '';
}

export const load: PageServerLoad = async ({ locals: { app }, params }) => {
	const page = await extrasPage(app, params.id);
	if (!page) error(404, NO_SUCH_PAGE);
	return page;
};

export const actions: Actions = {
	add: async ({ locals: { app, viewer }, params, request }) => {
		const form = await readForm(request);
		const parsed = await parse(ExtraForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { price: priceId, words, isLess, ...typed } = parsed.data;
		const off = isLess === 'yes' ? readOff(typed) : null;
		if (off && !off.ok)
			return fail(400, fieldError(form, off.problem.field, offMessage(off.problem, typed.offCurrency)));
		const less: Discount | null = off?.discount ?? null;
		const added = await addExtra(app, viewer, params.id, { priceId, words: words.trim(), less });
		if (!added.ok) {
			const field = added.code === 'other-currency' ? 'offAmount' : 'price';
			return fail(409, fieldError(form, field, PROBLEMS[added.code]));
		}
		return { saved: 'It is offered from now on.' };
	},
	end: async ({ locals: { app, viewer }, params, request }) => {
		const done = await endExtra(app, viewer, params.id, String((await readForm(request)).get('extra') ?? ''));
		return { saved: done.ok ? 'It is offered no more.' : 'It was offered no more already.' };
	},
	first: async ({ locals: { app, viewer }, params, request }) => {
		const id = String((await readForm(request)).get('extra') ?? '');
		const done = await putExtraFirst(app, viewer, params.id, id);
		return { saved: done.ok ? 'It is offered first.' : 'It is offered no more.' };
	}
};
