import { sellsAt } from '$core/billing/plan-access';
import { linesOf, orderTotal } from '$core/billing/order';
import { amountDue, startOf } from '$core/billing/terms';
import { error, fail, redirect } from '@sveltejs/kit';
import { deviceToken, knownDevice, ownPath } from '$server/http/cookies';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { fieldError, parse, readForm } from '$server/http/parse';
import { planToBuy } from '$server/reads/front/shop';
import { landingPath } from '$server/usecases/sales/landing';
import { beginOrder } from '$server/usecases/sales/begin-order';
import { declinedOrder, holdsPlan } from '$server/usecases/sales/look-at-order';
import type { Actions, PageServerLoad } from './$types';
import { BuyerForm } from './form';

const PROBLEMS = {
	'unknown-plan': 'checkout.unknown-plan',
	'not-on-sale': 'checkout.not-on-sale',
	'has-plan': 'checkout.has-plan',
	'too-many': 'checkout.too-many',
	busy: 'checkout.busy',
	unreachable: 'checkout.unreachable'
} as const;

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, cookies, url }) => {
	const plan = await planToBuy(app, params.slug);
	if (!plan) error(404, NO_SUCH_PAGE);
	if (viewer && (await holdsPlan(app, viewer.id, plan.id)))
		redirect(303, await landingPath(app, plan.id, null));
	const device = deviceToken(cookies, app.settings.origin);
	const isBack = url.searchParams.has('declined') || url.searchParams.has('ended');
	const before = isBack ? await declinedOrder(app, plan.id, device) : null;
	const { name, slug, lines, access } = plan;
	const { terms } = plan.price;
	const { zone } = await app.site();
	const today = app.clock.business();
	const isOnSale = sellsAt(plan, today);
	const next = amountDue(terms, 1);
	return {
		plan: {
			name,
			slug,
			lines,
			isOnSale,
			access,
			terms,
			todayMinor: orderTotal(linesOf(terms)),
			/** What is asked for after today, and when. */
			next: next === null ? null : { amountMinor: next, at: startOf(terms, today, zone, 1) ?? today }
		},
		next: ownPath(url.searchParams.get('next'), ''),
		wasDeclined: before !== null && url.searchParams.has('declined'),
		hasEnded: before !== null && url.searchParams.has('ended'),
		typed: { email: before?.email ?? '', name: before?.name ?? '' }
	};
};

export const actions: Actions = {
	default: async ({ locals: { app, viewer }, request, params, cookies, getClientAddress }) => {
		const form = await readForm(request);
		const buyer = viewer
			? { ok: true as const, data: { email: '', name: '', password: '' } }
			: await parse(BuyerForm, form);
		if (!buyer.ok) return fail(400, buyer);
		const begun = await beginOrder(app, {
			...buyer.data,
			planSlug: params.slug,
			memberId: viewer?.id ?? null,
			deviceToken: knownDevice(cookies) ?? deviceToken(cookies, app.settings.origin),
			next: ownPath(String(form.get('next') ?? ''), '') || null,
			client: getClientAddress()
		}).catch((cause: unknown) => {
			app.log.error({ err: cause }, 'an order could not be begun');
			return { ok: false as const, code: 'unreachable' as const };
		});
		if (!begun.ok)
			return fail(
				begun.code === 'busy' ? 503 : 409,
				fieldError(form, viewer ? 'pay' : 'email', PROBLEMS[begun.code])
			);
		redirect(303, begun.payUrl);
	}
};
