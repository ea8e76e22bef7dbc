import { sellsAt } from '$core/billing/plan-access';
import { waysToPay } from '$core/billing/pay-by';
import { linesOf, orderTotal } from '$core/billing/order';
import { amountDue, startOf, type Terms } from '$core/billing/terms';
import { error, fail, redirect } from '@sveltejs/kit';
import { deviceToken, knownDevice, ownPath } from '$server/http/cookies';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { fieldError, parse, readForm } from '$server/http/parse';
import { planToBuy } from '$server/reads/front/shop';
import { landingPath } from '$server/usecases/sales/landing';
import { beginOrder } from '$server/usecases/sales/begin-order';
import { declinedOrder, heldOf } from '$server/usecases/sales/look-at-order';
import type { Actions, PageServerLoad } from './$types';
import { BuyerForm, ChoiceForm } from './form';

const PROBLEMS = {
	'unknown-plan': 'checkout.unknown-plan',
	'unknown-price': 'checkout.unknown-price',
	'unknown-way': 'checkout.unknown-way',
	'not-on-sale': 'checkout.not-on-sale',
	'has-plan': 'checkout.has-plan',
	'too-many': 'checkout.too-many',
	busy: 'checkout.busy',
	unreachable: 'checkout.unreachable'
} as const;

/** Where a problem stands that has a field of its own. */
const FIELDS: Partial<Record<keyof typeof PROBLEMS, string>> = {
	'unknown-price': 'price',
	'unknown-way': 'payBy'
};

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, cookies, url }) => {
	const plan = await planToBuy(app, params.slug);
	if (!plan) error(404, NO_SUCH_PAGE);
	const held = viewer && (await heldOf(app, viewer.id, plan));
	if (held?.planId === plan.id) redirect(303, await landingPath(app, plan.id, null));
	if (held) redirect(303, `/account/move/${held.id}`);
	const device = deviceToken(cookies, app.settings.origin);
	const back = (['declined', 'ended', 'refused'] as const).find((one) => url.searchParams.has(one)) ?? null;
	const before = back ? await declinedOrder(app, plan.id, device) : null;
	const { name, slug, lines, access } = plan;
	const { zone, payBy, offline } = await app.site();
	const today = app.clock.business();
	const prices = plan.prices.map(({ priceId: id, name, terms }) => ({
		...{ id, name, terms },
		...dueOf(terms, today, zone)
	}));
	const asked = url.searchParams.get('price');
	return {
		plan: { name, slug, lines, isOnSale: sellsAt(plan, today), access },
		prices,
		chosen: prices.find(({ id }) => id === asked)?.id ?? prices[0]?.id ?? '',
		ways: waysToPay(payBy, plan.payBy).map((way) => ({ way, name: way === 'offline' ? offline.name : '' })),
		next: ownPath(url.searchParams.get('next'), ''),
		back: before ? back : null,
		typed: { email: before?.email ?? '', name: before?.name ?? '' }
	};
};

/** What is asked for today, and what after it, and when. */
function dueOf(terms: Terms, today: number, zone: string) {
	const next = amountDue(terms, 1);
	return {
		todayMinor: orderTotal(linesOf(terms)),
		next: next === null ? null : { amountMinor: next, at: startOf(terms, today, zone, 1) ?? today }
	};
}

export const actions: Actions = {
	default: async ({ locals: { app, viewer }, request, params, cookies, getClientAddress }) => {
		const form = await readForm(request);
		const choice = await parse(ChoiceForm, form);
		const buyer = viewer
			? { ok: true as const, data: { email: '', name: '', password: '' } }
			: await parse(BuyerForm, form);
		if (!choice.ok) return fail(400, choice);
		if (!buyer.ok) return fail(400, buyer);
		const begun = await beginOrder(app, {
			...buyer.data,
			planSlug: params.slug,
			priceId: choice.data.price || null,
			payBy: choice.data.payBy || null,
			memberId: viewer?.id ?? null,
			deviceToken: knownDevice(cookies) ?? deviceToken(cookies, app.settings.origin),
			next: ownPath(String(form.get('next') ?? ''), '') || null,
			client: getClientAddress()
		}).catch((cause: unknown) => {
			app.log.error({ err: cause }, 'an order could not be begun');
			return { ok: false as const, code: 'unreachable' as const };
		});
		if (!begun.ok && begun.code === 'has-rung') redirect(303, `/account/move/${begun.agreementId}`);
		if (!begun.ok) {
			const field = FIELDS[begun.code] ?? (viewer ? 'pay' : 'email');
			return fail(begun.code === 'busy' ? 503 : 409, fieldError(form, field, PROBLEMS[begun.code]));
		}
		redirect(303, begun.payUrl);
	}
};
