import { countriesByName } from '$core/text/countries';
import { beginsAt, sellsAt, soldAt } from '$core/billing/plan-access';
import { TOLD_WITHIN_DAYS } from '$core/billing/gift';
import { localDay } from '$core/time/calendar';
import { asksForMoney } from '$core/billing/terms';
import { waysToPay } from '$core/billing/pay-by';
import { error, fail, redirect } from '@sveltejs/kit';
import { deviceToken, knownDevice, ownPath } from '$server/http/cookies';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { fieldError, parse, readForm, type FieldErrors } from '$server/http/parse';
import { postalIn, PostalForm } from '$server/http/postal-form';
import { likelyBuyer } from '$server/reads/front/priced';
import { canBeGiven, includedAt, planToBuy } from '$server/reads/front/shop';
import { landingPath } from '$server/usecases/sales/landing';
import { beginOrder } from '$server/usecases/sales/begin-order';
import { declinedOrder, heldOf, lastPostal } from '$server/usecases/sales/look-at-order';
import { frontWords } from '$words/front';
import type { Actions, PageServerLoad } from './$types';
import { BuyerForm, ChoiceForm, GiftForm } from './form';
import { buyerOf, FIELDS, isGift, priced, PROBLEMS, typedIn } from './priced';

export const load: PageServerLoad = async (event) => {
	const { locals, params, cookies, url } = event;
	const { app, viewer } = locals;
	const gives = url.searchParams.has('gift');
	const asks = { buyer: buyerOf(event), isGift: gives, priceId: url.searchParams.get('price') };
	const plan = await planToBuy(app, locals.look, params.slug, asks);
	if (!plan && gives) redirect(303, `/checkout/${params.slug}`);
	// Its page says whom it is for, or that there is none.
	if (!plan) redirect(303, `/plans/${encodeURIComponent(params.slug)}`);
	const held = viewer && !gives ? await heldOf(app, viewer.id, plan) : null;
	if (viewer && held?.planId === plan.id)
		redirect(303, await landingPath(app, { memberId: viewer.id, planId: plan.id, next: null }));
	if (held) redirect(303, `/account/move/${held.id}`);
	if (plan.buyAt !== null && sellsAt(plan, app.clock.business())) redirect(303, plan.buyAt);
	const device = deviceToken(cookies, app.settings.origin);
	const back = (['declined', 'ended', 'refused'] as const).find((one) => url.searchParams.has(one)) ?? null;
	const before = back ? await declinedOrder(app, plan.id, device, gives) : null;
	const { name, slug, lines, access, statementName } = plan;
	const site = await app.site();
	const now = app.clock.business();
	const begins = beginsAt(plan, now);
	const { payBy, offline } = site;
	const said = before?.country
		? before
		: await likelyBuyer(app, viewer?.id ?? null, event.getClientAddress());
	const wished = url.searchParams.get('price') ?? before?.priceId;
	const asked = plan.prices.find(({ priceId }) => priceId === wished);
	const chosen = (asked ?? plan.price).priceId;
	return {
		included: !gives && asksForMoney(plan.price.terms) ? await includedAt(app, locals.look, plan.id) : null,
		plan: {
			...{ name, slug, lines, sold: soldAt(plan, now), access, statementName },
			sellsSeats: plan.sellsSeats && !gives,
			begins: begins > now ? begins : null
		},
		canBeGiven: canBeGiven(plan),
		money: {
			currencies: plan.currencies.toSorted(),
			shown: plan.price.terms.currency,
			wished: locals.look.currency ?? null
		},
		gift: plan.opens && {
			opens: plan.opens,
			...giftDays(app.clock.business(), site.zone, before?.gift ?? null)
		},
		priced: await priced(event, plan, {
			code: url.searchParams.get('code') ?? before?.code ?? '',
			// Of one place: a number belongs to its country.
			country: said.country ?? '',
			taxId: said.taxId ?? '',
			seats: url.searchParams.get('seats') ?? String(before?.seats ?? ''),
			price: chosen,
			besides: before?.besides ?? url.searchParams.getAll('with')
		}),
		countries:
			site.tax.way === 'none' && !plan.asksPostal ? [] : countriesByName(frontWords(locals.language).locale),
		postal: plan.asksPostal
			? (before?.postal ?? (viewer && !gives ? await lastPostal(app, viewer.id) : null) ?? NOWHERE_YET)
			: null,
		chosen,
		ways: waysToPay(payBy, plan.payBy).map((way) => ({ way, name: way === 'offline' ? offline.name : '' })),
		next: ownPath(url.searchParams.get('next'), ''),
		back: before ? back : null,
		typed: { email: before?.email ?? '', name: before?.name ?? '' }
	};
};

const NOWHERE_YET = {
	...{ name: '', more: '', street: '', postcode: '' },
	...{ city: '', region: '', country: '' }
};

/** On which days they can be told, and what was typed before. */
function giftDays(
	now: number,
	zone: string,
	before: { email: string; words: string; tellAt: number } | null
) {
	return {
		today: localDay(now, zone),
		lastDay: localDay(now + (TOLD_WITHIN_DAYS - 1) * 86_400_000, zone),
		typed: {
			email: before?.email ?? '',
			words: before?.words ?? '',
			day: localDay(Math.max(now, before?.tellAt ?? now), zone)
		}
	};
}

export const actions: Actions = {
	default: async (event) => {
		const { locals, request, params, cookies, getClientAddress } = event;
		const { app, viewer } = locals;
		const form = await readForm(request);
		const choice = await parse(ChoiceForm, form);
		const gives = isGift(form);
		const asks = { buyer: buyerOf(event), isGift: gives, priceId: String(form.get('price') ?? '') };
		const plan = await planToBuy(app, locals.look, params.slug, asks);
		if (!plan) error(404, NO_SUCH_PAGE);
		// What is agreed to is what was shown: a code that was typed since is looked at first.
		const typed = typedIn(form);
		const now = await priced(event, plan, typed);
		const shown = (name: string) => String(form.get(name) ?? '');
		if (now.problem) return fail(409, { ...fieldError(form, 'code', now.problem), priced: now });
		if (now.seatsProblem) return fail(400, { ...fieldError(form, 'seats', now.seatsProblem), priced: now });
		if (now.taxProblem) return fail(409, { ...fieldError(form, 'taxId', now.taxProblem), priced: now });
		const isForSeen = String(now.seats) === (shown('shownSeats') || '1');
		const chosen = now.besides.filter(({ isChosen }) => isChosen);
		const isTogether = chosen.map(({ id }) => id).join(' ') === shown('shownBesides');
		const isShown =
			now.code === shown('shownCode') && where(now) === shown('shownWhere') && isForSeen && isTogether;
		if (!isShown) return fail(200, { ...fieldError(form, 'code', ''), errors: {}, priced: now });
		const buyer = viewer
			? { ok: true as const, data: { email: '', name: '', password: '' } }
			: await parse(BuyerForm, form);
		const gift = gives ? await parse(GiftForm, form) : null;
		const postal = plan.asksPostal ? await parse(PostalForm, form) : null;
		if (!choice.ok || !buyer.ok || gift?.ok === false || postal?.ok === false) {
			const errors = Object.assign({}, ...[gift, choice, buyer, postal].map(errorsIn)) as FieldErrors;
			return fail(400, { ...fieldError(form, '', ''), errors, priced: now });
		}
		const begun = await beginOrder(app, {
			...buyer.data,
			planSlug: params.slug,
			priceId: choice.data.price || null,
			payBy: choice.data.payBy || null,
			...{ code: now.code, country: now.country, taxId: now.taxId },
			postal: postal && postalIn(postal.data),
			gift: gift && { email: gift.data.giftEmail, words: gift.data.giftWords, day: gift.data.giftDay },
			seats: now.seats,
			besides: chosen.map(({ slug: planSlug, id: priceId }) => ({ planSlug, priceId })),
			seenMinor: seenIn(form, choice.data.price),
			wantsAgain: form.get('again') === 'yes',
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

function errorsIn(parsed: { ok: boolean; errors?: FieldErrors } | null): FieldErrors {
	return parsed?.errors ?? {};
}

/** Of which the tax depends, in a line: so that what was shown can be told from what is typed since. */
function where({ country, taxId }: { country: string; taxId: string }): string {
	return `${country} ${taxId}`.trim();
}

/** What the page said is to be paid today at a price; `null`: nothing. */
function seenIn(form: FormData, priceId: string): number | null {
	const seen = String(form.get(`today-${priceId}`) ?? '');
	return /^\d{1,15}$/.test(seen) ? Number(seen) : null;
}
