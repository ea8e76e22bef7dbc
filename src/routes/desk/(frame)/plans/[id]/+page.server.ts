import { error, fail } from '@sveltejs/kit';
import { frontWords } from '$words/front';
import { priceText } from '$words/price';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { agreedTo, begunWith, fieldError, readForm } from '$server/http/parse';
import { planPage } from '$server/reads/desk/plans';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { savePlanOpens, type OpensWish } from '$server/usecases/access/plan-opens';
import { reprice } from '$server/usecases/plans/reprice';
import { editPlan, planRevision } from '$server/usecases/plans/save-plan';
import type { Actions, PageServerLoad } from './$types';
import { chosenIn, parsePlan } from '../form';

export const load: PageServerLoad = async ({ locals: { app }, params }) => {
	const page = await planPage(app, params.id);
	if (!page) error(404, NO_SUCH_PAGE);
	const { plan, prices, opens, opensCount, draftCount, opensEverything, chosen, earlier } = page;
	const { terms, version, name: priceName, firstBuyers } = plan.price;
	return {
		plan: { ...plan, terms, priceName, firstBuyers, soldTo: page.soldTo },
		waiting: page.waiting,
		extras: page.extras,
		prices: prices.map(({ priceId: id, name, terms, isOnSale, firstBuyers, taken }) => ({
			...{ id, name, terms, isOnSale, firstBuyers, taken }
		})),
		earlier,
		revision: planRevision(plan),
		priceVersion: version,
		opens,
		opensCount,
		draftCount,
		opensEverything,
		chosen,
		planUrl: `${app.settings.origin}/plans/${plan.slug}`,
		checkoutUrl: `${app.settings.origin}/checkout/${plan.slug}`
	};
};

export const actions: Actions = {
	save: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const { zone } = await app.site();
		const parsed = await parsePlan(form, zone);
		if (!parsed.ok) return fail(400, parsed);
		const edited = await editPlan(app, viewer, params.id, parsed.wish, agreedTo(form), begunWith(form));
		if (edited.kind === 'changed') {
			const { name, price } = edited.theirs;
			const theirs = {
				revision: planRevision(edited.theirs),
				words: `“${name}”, ${priceText(frontWords('en'), price.terms)}.`
			};
			return fail(409, { ...fieldError(form, '', ''), errors: {}, theirs });
		}
		if (edited.kind === 'refused') error(404, NO_SUCH_PAGE);
		if (edited.kind === 'rehearsed')
			return fail(409, {
				...fieldError(form, '', ''),
				errors: {},
				rehearsal: await rehearsalView(app, edited.rehearsal)
			});
		return { saved: 'Saved.' };
	},
	reprice: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const [priceId, seen] = [String(form.get('price') ?? ''), String(form.get('seen') ?? '')];
		const done = await reprice(app, viewer, { planId: params.id, priceId, seen });
		if (!done.ok) return fail(409, { repriceProblem: REPRICE_PROBLEMS[done.code] });
		return { repriced: done.count };
	},
	opens: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const how = form.get('how');
		if (how !== 'everything' && how !== 'chosen')
			return fail(400, { opensProblem: 'Choose one of the two.' });
		const ids = chosenIn(String(form.get('chosen') ?? ''));
		const wish: OpensWish = how === 'everything' ? { kind: 'everything' } : { kind: 'chosen', ids };
		const saved = await savePlanOpens(app, viewer, params.id, wish, agreedTo(form));
		if (saved.kind === 'refused') {
			if (saved.code === 'unknown-plan') error(404, NO_SUCH_PAGE);
			return fail(409, { opensProblem: 'One of these does not exist any more. Load the page again.' });
		}
		if (saved.kind === 'rehearsed')
			return fail(409, { opensRehearsal: await rehearsalView(app, saved.rehearsal) });
		return { opensSaved: true };
	}
};

const REPRICE_PROBLEMS = {
	unknown: 'Nobody pays an earlier price any more.',
	changed: 'Meanwhile it has changed. This is how it stands now: look again, then choose.'
};
