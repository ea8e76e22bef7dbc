/** What the checkout says a plan costs whoever looks: with a code, and with the tax of where they are. */
import type { RequestEvent } from '@sveltejs/kit';
import { normaliseCode } from '$core/access/batches';
import { CODE_REFUSALS, offAtAll } from '$core/billing/discount-code';
import { readSeats, seatedTerms } from '$core/billing/seats';
import { asksForMoney } from '$core/billing/terms';
import { deviceToken, knownDevice, orderDevice } from '$server/http/cookies';
import { besidesOf } from '$server/reads/front/besides';
import { pricedAt, pricedFor } from '$server/reads/front/priced';
import type { planToBuy } from '$server/reads/front/shop';
import { taxAsked } from '$server/usecases/sales/tax-order';
import { offersToBuyer, pricedThings } from '$server/usecases/sales/take-off';

export const PROBLEMS = {
	'unknown-plan': 'checkout.unknown-plan',
	'unknown-price': 'checkout.unknown-price',
	'price-gone': 'checkout.price-gone',
	'unknown-way': 'checkout.unknown-way',
	'not-on-sale': 'checkout.not-on-sale',
	'has-plan': 'checkout.has-plan',
	included: 'checkout.again-say',
	'too-many': 'checkout.too-many',
	busy: 'checkout.busy',
	unreachable: 'checkout.unreachable',
	changed: 'checkout.changed',
	'no-postal': 'checkout.no-postal',
	'besides-gone': 'checkout.besides-gone',
	'besides-currency': 'checkout.besides-currency',
	'same-ladder': 'checkout.same-ladder',
	'has-besides': 'checkout.has-besides',
	'no-seats': 'checkout.no-seats',
	'seats-free': 'checkout.seats-free',
	'no-gift': 'checkout.no-gift',
	'gift-own': 'checkout.gift-own',
	'gift-over': 'checkout.gift-over',
	'gift-too-far': 'checkout.gift-too-far',
	'gift-free': 'checkout.gift-free',
	'unknown-country': 'checkout.unknown-country',
	'tax-id-other-country': 'checkout.tax-id-other-country',
	'tax-id-not-its-form': 'checkout.tax-id-not-its-form',
	'tax-id-not-its-digits': 'checkout.tax-id-not-its-digits',
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
export const FIELDS: Partial<Record<keyof typeof PROBLEMS, string>> = {
	'unknown-price': 'price',
	'price-gone': 'price',
	included: 'again',
	'unknown-way': 'payBy',
	changed: 'price',
	'no-postal': 'postalName',
	'besides-gone': 'besides',
	'besides-currency': 'besides',
	'same-ladder': 'besides',
	'has-besides': 'besides',
	'no-seats': 'seats',
	'seats-free': 'seats',
	'no-gift': 'price',
	'gift-own': 'giftEmail',
	'gift-over': 'giftDay',
	'gift-too-far': 'giftDay',
	'gift-free': 'code',
	'unknown-country': 'country',
	'tax-id-other-country': 'taxId',
	'tax-id-not-its-form': 'taxId',
	'tax-id-not-its-digits': 'taxId',
	...Object.fromEntries(OF_CODE.map((code) => [code, 'code']))
};

const MOST_NAMED = 20;

export interface Typed {
	code: string;
	country: string;
	taxId: string;
	/** For how many people; empty: for one. */
	seats?: string;
	/** What is bought with it: ids of prices, or slugs of plans. */
	besides?: readonly string[];
	/** Which price; `null`: the first. */
	price: string | null;
}

export function typedIn(form: FormData): Typed {
	const text = (name: string) => String(form.get(name) ?? '');
	const where = { country: text('country'), taxId: text('taxId') };
	const besides = form.getAll('besides').map(String).slice(0, MOST_NAMED);
	return { code: text('code'), ...where, price: text('price'), seats: text('seats'), besides };
}

/** Who is about to buy: what they have begun themselves takes nothing from them. */
export function buyerOf({ locals: { viewer }, cookies }: Pick<RequestEvent, 'locals' | 'cookies'>) {
	return { memberId: viewer?.id ?? null, deviceHash: orderDevice(cookies) };
}

/** Whether it is bought for somebody else. */
export function isGift(form: FormData): boolean {
	return form.get('gift') === 'yes';
}

type Plan = NonNullable<Awaited<ReturnType<typeof planToBuy>>>;

/** A plan with what its prices ask for so many people. */
function forSeats(plan: Plan, seats: number): Plan {
	const seated = (price: Plan['price']) => ({ ...price, terms: seatedTerms(price.terms, seats) });
	return { ...plan, price: seated(plan.price), prices: plan.prices.map(seated) };
}

/** The plan's prices as this buyer reads them: what a code takes off and which tax there is, or what is wrong with either. */
export async function priced(
	{ locals: { app, look, viewer }, cookies, getClientAddress, url }: RequestEvent,
	one: Plan,
	typed: Typed
) {
	const seats = one.sellsSeats && one.opens === null ? readSeats(typed.seats ?? '') : 1;
	const plan = forSeats(one, seats ?? 1);
	const head = plan.prices.find(({ priceId }) => priceId === typed.price) ?? plan.price;
	const { currency } = head.terms;
	// What is for somebody else, or for several people, is bought alone.
	const together =
		plan.opens === null && (seats ?? 1) === 1
			? await besidesOf(
					app,
					look,
					{ ...plan, currency },
					typed.besides ?? [],
					url.searchParams.getAll('with')
				)
			: { offered: [], chosen: [] };
	const code = normaliseCode(typed.code).slice(0, 60);
	const { zone, tax: rules } = await app.site();
	const today = app.clock.business();
	const token = knownDevice(cookies) ?? deviceToken(cookies, app.settings.origin);
	const client = getClientAddress();
	const offers = await offersToBuyer(app, {
		...{ plan, code, client },
		...{ memberId: viewer?.id ?? null, deviceToken: token }
	});
	const asksMoney = [...plan.prices, ...together.chosen.map(({ price }) => price)].find(({ terms }) =>
		asksForMoney(terms)
	);
	const asksWhere = rules.way !== 'none' && asksMoney !== undefined;
	const { country, taxId } = asksWhere ? typed : { country: '', taxId: '' };
	const { terms } = asksMoney ?? plan.price;
	const asked = taxAsked(app, rules, terms, { country, taxId: taxId.slice(0, 40), client });
	// As long as the number is none, they buy for themselves.
	const known = asked.ok ? asked : taxAsked(app, rules, terms, { country, taxId: '', client });
	const buyer = known.ok ? known.buyer : { country: null, taxId: null };
	const none = { typed: { kind: 'none' as const }, forHolding: null };
	const at = { today, zone };
	const prices = pricedFor(plan, offers ?? none, at, { rules, buyer });
	const of = prices.find(({ id }) => id === typed.price) ?? prices[0];
	const tax = { rules, buyer };
	const buying = { memberId: viewer?.id ?? null, deviceHash: orderDevice(cookies), now: today };
	const bought = [{ plan, price: head }, ...together.chosen];
	const all = offAtAll(
		(offers ?? none).typed,
		await pricedThings(app, bought, offers ?? none, buying),
		today
	);
	const refusal = offers ? (all.ok ? null : (of?.refusal ?? all.code)) : 'too-many-codes';
	const besides = together.offered.map(({ plan: beside, price }) => {
		const n = together.chosen.findIndex((chosen) => chosen.plan.id === beside.id);
		const taken = n >= 0 && all.ok ? (all.taken[n + 1] ?? null) : null;
		const { name: priceName, ...asks } = pricedAt(beside, price, taken, at, tax);
		const name = [beside.name, priceName].filter(Boolean).join(', ');
		return { ...asks, slug: beside.slug, isChosen: n >= 0, name };
	});
	return {
		besides,
		...{ code, prices, asksWhere, country, taxId, seats: seats ?? 1 },
		seatsProblem: seats === null ? PROBLEMS['no-seats'] : null,
		problem: code === '' || refusal === null ? null : PROBLEMS[refusal],
		taxProblem: asked.ok || asked.code === 'unknown-country' ? null : PROBLEMS[asked.code]
	};
}
