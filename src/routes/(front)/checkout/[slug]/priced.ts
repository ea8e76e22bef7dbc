/** What the checkout says a plan costs whoever looks: with a code, and with the tax of where they are. */
import type { RequestEvent } from '@sveltejs/kit';
import { normaliseCode } from '$core/access/batches';
import { CODE_REFUSALS } from '$core/billing/discount-code';
import { readSeats, seatedTerms } from '$core/billing/seats';
import { asksForMoney } from '$core/billing/terms';
import { deviceToken, knownDevice, orderDevice } from '$server/http/cookies';
import { pricedFor } from '$server/reads/front/priced';
import type { planToBuy } from '$server/reads/front/shop';
import { taxAsked } from '$server/usecases/sales/tax-order';
import { offersToBuyer } from '$server/usecases/sales/take-off';

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

export interface Typed {
	code: string;
	country: string;
	taxId: string;
	/** For how many people; empty: for one. */
	seats?: string;
	/** Which price; `null`: the first. */
	price: string | null;
}

export function typedIn(form: FormData): Typed {
	const text = (name: string) => String(form.get(name) ?? '');
	const where = { country: text('country'), taxId: text('taxId') };
	return { code: text('code'), ...where, price: text('price'), seats: text('seats') };
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
	{ locals: { app, viewer }, cookies, getClientAddress }: RequestEvent,
	one: Plan,
	typed: Typed
) {
	const seats = one.sellsSeats && one.opens === null ? readSeats(typed.seats ?? '') : 1;
	const plan = forSeats(one, seats ?? 1);
	const code = normaliseCode(typed.code).slice(0, 60);
	const { zone, tax: rules } = await app.site();
	const today = app.clock.business();
	const token = knownDevice(cookies) ?? deviceToken(cookies, app.settings.origin);
	const client = getClientAddress();
	const offers = await offersToBuyer(app, {
		...{ plan, code, client },
		...{ memberId: viewer?.id ?? null, deviceToken: token }
	});
	const asksWhere = rules.way !== 'none' && plan.prices.some(({ terms }) => asksForMoney(terms));
	const { country, taxId } = asksWhere ? typed : { country: '', taxId: '' };
	const terms = (plan.prices.find((one) => asksForMoney(one.terms)) ?? plan.price).terms;
	const asked = taxAsked(app, rules, terms, { country, taxId: taxId.slice(0, 40), client });
	// As long as the number is none, they buy for themselves.
	const known = asked.ok ? asked : taxAsked(app, rules, terms, { country, taxId: '', client });
	const buyer = known.ok ? known.buyer : { country: null, taxId: null };
	const none = { typed: { kind: 'none' as const }, forHolding: null };
	const at = { today, zone };
	const prices = pricedFor(plan, offers ?? none, at, { rules, buyer });
	const of = prices.find(({ id }) => id === typed.price) ?? prices[0];
	const refusal = offers ? (of?.refusal ?? null) : 'too-many-codes';
	return {
		...{ code, prices, asksWhere, country, taxId, seats: seats ?? 1 },
		seatsProblem: seats === null ? PROBLEMS['no-seats'] : null,
		problem: code === '' || refusal === null ? null : PROBLEMS[refusal],
		taxProblem: asked.ok || asked.code === 'unknown-country' ? null : PROBLEMS[asked.code]
	};
}
