import { error, fail } from '@sveltejs/kit';
import { formatMoney } from '$core/billing/money';
import { openedByPlan } from '$core/access/policy';
import { itemsByIds } from '$server/db/queries/library';
import { planById } from '$server/db/queries/sales';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { begunWith, fieldError, readForm } from '$server/http/parse';
import { agreedTo, rehearsalView } from '$server/http/rehearsal-view';
import { editPlan, planRevision } from '$server/usecases/plans/save-plan';
import type { Actions, PageServerLoad } from './$types';
import { parsePlan } from '../form';

const SHOWN = 100;

export const load: PageServerLoad = async ({ locals: { app }, params }) => {
	const plan = await planById(app.db, params.id);
	if (!plan) error(404, NO_SUCH_PAGE);
	const opened = openedByPlan(await app.rights.policy(), plan.id);
	const items = await itemsByIds(
		app.db,
		opened.slice(0, SHOWN).map((item) => item.id)
	);
	const { amountMinor, currency, periodUnit: unit, version } = plan.price;
	return {
		plan: { ...plan, amountMinor, currency, unit },
		revision: planRevision(plan),
		priceVersion: version,
		opens: items.map(({ id, title, state }) => ({ id, title, state })),
		opensCount: opened.length,
		checkoutUrl: `${app.settings.origin}/checkout/${plan.slug}`
	};
};

export const actions: Actions = {
	save: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const parsed = await parsePlan(form);
		if (!parsed.ok) return fail(400, parsed);
		const edited = await editPlan(app, viewer, params.id, parsed.wish, agreedTo(form), begunWith(form));
		if (edited.kind === 'changed') {
			const { name, price } = edited.theirs;
			const amount = formatMoney({ minor: price.amountMinor, currency: price.currency });
			const theirs = {
				revision: planRevision(edited.theirs),
				words: `“${name}”, ${amount} a ${price.periodUnit}.`
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
	}
};
