import { CODE_REFUSALS } from '$core/billing/discount-code';
import { sellsAt } from '$core/billing/plan-access';
import { waysToPay } from '$core/billing/pay-by';
import { normaliseCode } from '$core/access/batches';
import { error, fail, redirect, type RequestEvent } from '@sveltejs/kit';
import { deviceToken, knownDevice, ownPath } from '$server/http/cookies';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { fieldError, parse, readForm } from '$server/http/parse';
import { pricedFor } from '$server/reads/front/priced';
import { planToBuy } from '$server/reads/front/shop';
import { landingPath } from '$server/usecases/sales/landing';
import { beginOrder } from '$server/usecases/sales/begin-order';
import { declinedOrder, heldOf } from '$server/usecases/sales/look-at-order';
import { offersToBuyer } from '$server/usecases/sales/take-off';
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
	unreachable: 'checkout.unreachable',
	changed: 'checkout.changed',
	'unknown-code': 'checkout.code-unknown',
	gives: 'checkout.code-gives',
	'too-early': 'checkout.code-too-early',
	over: 'checkout.code-over',
	'other-plan': 'checkout.code-other-plan',
	'other-currency': 'checkout.code-other-currency',
	'takes-nothing': 'checkout.code-takes-nothing',
	'had-it': 'checkout.code-had-it',
	'used-up': 'checkout.code-used-up',
	'too-many-codes': 'checkout.code-too-many'
} as const;
const OF_CODE = [...CODE_REFUSALS, 'unknown-code', 'gives', 'too-many-codes'] as const;

/** Where a problem stands that has a field of its own. */
const FIELDS: Partial<Record<keyof typeof PROBLEMS, string>> = {
	'unknown-price': 'price',
	'unknown-way': 'payBy',
	changed: 'price',
	...Object.fromEntries(OF_CODE.map((code) => [code, 'code']))
};

type Plan = NonNullable<Awaited<ReturnType<typeof planToBuy>>>;

/** The plan's prices as this buyer reads them, with a code: what it takes off, or why it does not. */
async function priced(
	{ locals: { app, viewer }, cookies, getClientAddress }: RequestEvent,
	plan: Plan,
	typed: string,
	chosen: string | null
) {
	const code = normaliseCode(typed).slice(0, 60);
	const { zone } = await app.site();
	const today = app.clock.business();
	const token = knownDevice(cookies) ?? deviceToken(cookies, app.settings.origin);
	const who = { memberId: viewer?.id ?? null, deviceToken: token, client: getClientAddress() };
	const offers = await offersToBuyer(app, { plan, code, ...who });
	const none = { typed: { kind: 'none' as const }, forHolding: null };
	const prices = pricedFor(plan, offers ?? none, today, zone);
	const of = prices.find(({ id }) => id === chosen) ?? prices[0];
	const refusal = offers ? (of?.refusal ?? null) : 'too-many-codes';
	return { code, prices, problem: code === '' || refusal === null ? null : PROBLEMS[refusal] };
}

export const load: PageServerLoad = async (event) => {
	const { locals, params, cookies, url } = event;
	const { app, viewer } = locals;
	const plan = await planToBuy(app, params.slug);
	if (!plan) error(404, NO_SUCH_PAGE);
	const held = viewer && (await heldOf(app, viewer.id, plan));
	if (viewer && held?.planId === plan.id)
		redirect(303, await landingPath(app, { memberId: viewer.id, planId: plan.id, next: null }));
	if (held) redirect(303, `/account/move/${held.id}`);
	const device = deviceToken(cookies, app.settings.origin);
	const back = (['declined', 'ended', 'refused'] as const).find((one) => url.searchParams.has(one)) ?? null;
	const before = back ? await declinedOrder(app, plan.id, device) : null;
	const { name, slug, lines, access } = plan;
	const { payBy, offline } = await app.site();
	const wished = url.searchParams.get('price') ?? before?.priceId;
	const asked = plan.prices.find(({ priceId }) => priceId === wished);
	const chosen = (asked ?? plan.price).priceId;
	return {
		plan: { name, slug, lines, isOnSale: sellsAt(plan, app.clock.business()), access },
		priced: await priced(event, plan, url.searchParams.get('code') ?? before?.code ?? '', chosen),
		chosen,
		ways: waysToPay(payBy, plan.payBy).map((way) => ({ way, name: way === 'offline' ? offline.name : '' })),
		next: ownPath(url.searchParams.get('next'), ''),
		back: before ? back : null,
		typed: { email: before?.email ?? '', name: before?.name ?? '' }
	};
};

export const actions: Actions = {
	default: async (event) => {
		const { locals, request, params, cookies, getClientAddress } = event;
		const { app, viewer } = locals;
		const form = await readForm(request);
		const choice = await parse(ChoiceForm, form);
		const plan = await planToBuy(app, params.slug);
		if (!plan) error(404, NO_SUCH_PAGE);
		// What is agreed to is what was shown: a code that was typed since is looked at first.
		const typed = String(form.get('code') ?? '');
		const now = await priced(event, plan, typed, String(form.get('price') ?? ''));
		const isShown = now.code === String(form.get('shownCode') ?? '');
		if (!isShown || now.problem) {
			const said = fieldError(form, 'code', now.problem ?? '');
			return fail(now.problem ? 409 : 200, { ...said, ...(now.problem ? {} : { errors: {} }), priced: now });
		}
		const buyer = viewer
			? { ok: true as const, data: { email: '', name: '', password: '' } }
			: await parse(BuyerForm, form);
		if (!choice.ok) return fail(400, { ...choice, priced: now });
		if (!buyer.ok) return fail(400, { ...buyer, priced: now });
		const begun = await beginOrder(app, {
			...buyer.data,
			planSlug: params.slug,
			priceId: choice.data.price || null,
			payBy: choice.data.payBy || null,
			code: now.code,
			seenMinor: seenIn(form, choice.data.price),
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
			const said = fieldError(form, field, PROBLEMS[begun.code]);
			return fail(begun.code === 'busy' ? 503 : 409, { ...said, priced: now });
		}
		redirect(303, begun.payUrl);
	}
};

/** What the page said is to be paid today at a price; `null`: nothing. */
function seenIn(form: FormData, priceId: string): number | null {
	const seen = String(form.get(`today-${priceId}`) ?? '');
	return /^\d{1,15}$/.test(seen) ? Number(seen) : null;
}
