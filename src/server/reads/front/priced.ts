/** What the prices of a plan ask of whoever is about to buy, with what is taken off them. */
import { beginsAt } from '$core/billing/plan-access';
import { offAt, type Offers, type OffAnswer, type Taken } from '$core/billing/discount-code';
import { linesOf, orderTotal } from '$core/billing/order';
import { taxedOn, termsTax, type Taxed, type TaxedBuyer, type TaxRules } from '$core/billing/tax';
import { localDay } from '$core/time/calendar';
import { amountDue, startOf, taxedTerms, withDiscount, type Terms } from '$core/billing/terms';
import { isCountry } from '$core/text/countries';
import type { Using } from '../../app';
import { taxBuyerOf } from '../../db/queries/agreements';
import { lastTaxOf, type OfferedPlan, type OfferedPrice } from '../../db/queries/sales';

export interface PricedPrice {
	id: string;
	name: string;
	/** With what is taken off, and the tax. */
	terms: Terms;
	todayMinor: number;
	/** How it is taxed, and how much of today's is tax. */
	taxed: Taxed;
	taxMinor: number;
	next: Due | null;
	/** When nothing is taken off any more, and what is asked for then; `null`: that is `next`, or never. */
	full: Due | null;
	/** For how many buyers it is, and how many of them may still come; `null`: for all. */
	first: { of: number; left: number } | null;
	off: 'none' | 'by-code' | 'by-holding';
	/** Why the code that was typed takes nothing off. */
	refusal: Extract<OffAnswer, { ok: false }>['code'] | null;
}

interface Due {
	at: number;
	amountMinor: number;
}

/** For whom, and where, the tax is worked out. */
export interface PricedTax {
	rules: TaxRules;
	buyer: TaxedBuyer;
}

export function pricedFor(plan: OfferedPlan, offers: Offers, at: PricedAt, tax: PricedTax): PricedPrice[] {
	return plan.prices.map((price) => {
		const answer = offAt(offers, plan.id, price.terms, at.today);
		// A code that does not count takes nothing from what is held.
		const own = answer.ok
			? answer
			: offAt({ ...offers, typed: { kind: 'none' } }, plan.id, price.terms, at.today);
		const refusal = answer.ok ? null : answer.code;
		return { ...pricedAt(plan, price, own.ok ? own.taken : null, at, tax), refusal };
	});
}

/** As of when, and in the publisher's zone. */
interface PricedAt {
	today: number;
	zone: string;
}

/** One price, with what is known to be taken off of it. */
export function pricedAt(
	plan: OfferedPlan,
	{ priceId: id, name, terms: price, firstBuyers, left = null }: OfferedPrice,
	taken: Taken | null,
	{ today, zone }: PricedAt,
	{ rules, buyer }: PricedTax
): PricedPrice {
	// What is paid later is counted from when it begins.
	const begins = beginsAt(plan, today);
	const taxed = taxedOn(rules, buyer, localDay(today, zone));
	const terms = taxedTerms(withDiscount(price, taken?.discount ?? null), termsTax(taxed));
	const lines = linesOf(terms, taxed);
	const at = (due: number): Due | null => {
		const amountMinor = amountDue(terms, due);
		return amountMinor === null ? null : { amountMinor, at: startOf(terms, begins, zone, due) ?? begins };
	};
	const back = fullFrom(terms);
	return {
		...{ id, name, terms, todayMinor: orderTotal(lines), next: at(1) },
		...{ taxed, taxMinor: lines.reduce((sum, { taxMinor }) => sum + taxMinor, 0) },
		full: back === null || back < 2 ? null : at(back),
		first: firstBuyers === null ? null : { of: firstBuyers, left: left ?? firstBuyers },
		...{ off: offBy(taken), refusal: null }
	};
}

function offBy(taken: Taken | null): PricedPrice['off'] {
	if (!taken) return 'none';
	return taken.codeId === null ? 'by-holding' : 'by-code';
}

/** The first due of which nothing is taken off any more; `null`: of all something is. */
function fullFrom({ discount, firstMinor }: Terms): number | null {
	if (!discount || discount.payments === null) return null;
	return discount.payments + (firstMinor === 0 ? 1 : 0);
}

/** Who whoever looks is likely to be for the tax: as they said last, else where their network is, else at home. */
export async function likelyBuyer(
	app: Using<'clock' | 'db' | 'geography' | 'site'>,
	memberId: string | null,
	client: string
): Promise<TaxedBuyer> {
	const { way, home } = (await app.site()).tax;
	if (way === 'none') return { country: null, taxId: null };
	const before =
		memberId === null
			? null
			: ((await taxBuyerOf(app.db, memberId, app.clock.business())) ??
				(await lastTaxOf(app.db, memberId))?.buyer);
	if (before) return before;
	const network = app.geography.countryOf(client);
	return { country: network !== null && isCountry(network) ? network : home, taxId: null };
}
