import { error, fail, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { fieldError, readForm } from '$server/http/parse';
import { planPage } from '$server/reads/desk/plans';
import { offerPrice, putPriceFirst, savePrice, type SavedPrice } from '$server/usecases/plans/save-price';
import type { Actions, PageServerLoad } from './$types';
import { parsePrice } from '../../../form';

const UUID = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;
const NEW = 'new';

const PROBLEMS: Record<Extract<SavedPrice, { ok: false }>['code'], string> = {
	unknown: 'There is no such price any more. Go back to the plan.',
	'too-many': 'A plan has at most 8 prices of one currency on sale: take one back first.',
	'needs-name': 'Give it a name: buyers choose between it and another price in this currency.',
	'same-name': 'Another price of this plan is called so: buyers could not tell them apart.',
	last: 'It is the only price on sale. Take the plan off sale instead, or add another price first.'
};

export const load: PageServerLoad = async ({ locals: { app }, params }) => {
	const page = UUID.test(params.id) ? await planPage(app, params.id) : null;
	const price = page?.prices.find(({ priceId }) => priceId === params.price) ?? null;
	if (!page || (params.price !== NEW && !price)) error(404, NO_SUCH_PAGE);
	const { plan, prices } = page;
	return {
		plan: { id: plan.id, name: plan.name },
		price: price && {
			...{ id: price.priceId, name: price.name, terms: price.terms, isOnSale: price.isOnSale },
			firstBuyers: price.firstBuyers,
			isFirst: price.priceId === prices[0]?.priceId,
			checkoutUrl: `${app.settings.origin}/checkout/${plan.slug}?price=${price.priceId}`
		},
		/** The first has no name yet: with another one of its currency beside it, buyers need one. */
		isFirstUnnamed: plan.price.name === '' && !price
	};
};

export const actions: Actions = {
	save: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const parsed = await parsePrice(form);
		if (!parsed.ok) return fail(400, parsed);
		const priceId = params.price === NEW ? null : params.price;
		const saved = await savePrice(app, viewer, params.id, priceId, parsed.wish);
		if (!saved.ok) return fail(409, fieldError(form, 'priceName', PROBLEMS[saved.code]));
		if (priceId === null) redirect(303, `/desk/plans/${params.id}/prices/${saved.priceId}`);
		return { saved: 'Saved.' };
	},
	offer: async ({ locals: { app, viewer }, request, params }) => {
		const isOnSale = (await readForm(request)).get('isOnSale') === 'yes';
		const saved = await offerPrice(app, viewer, params.id, params.price, isOnSale);
		if (!saved.ok) return fail(409, { problem: PROBLEMS[saved.code] });
		return {
			saved: isOnSale ? 'It is sold again.' : 'It is not sold any more. Who has bought at it keeps it.'
		};
	},
	first: async ({ locals: { app, viewer }, params }) => {
		const saved = await putPriceFirst(app, viewer, params.id, params.price);
		if (!saved.ok) return fail(409, { problem: PROBLEMS[saved.code] });
		return { saved: 'It is the first now: chosen until buyers choose another, and named in lists.' };
	}
};
