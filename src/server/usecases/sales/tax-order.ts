/** What tax an order has in it, and of whom it depends. */
import { isCountry } from '$core/text/countries';
import { readTaxId, type TaxIdProblem } from '$core/billing/tax-id';
import {
	taxedOn,
	termsTax,
	type AgreedTax,
	type CountryProof,
	type OrderTax,
	type TaxedBuyer,
	type TaxRules
} from '$core/billing/tax';
import { seatedTerms } from '$core/billing/seats';
import { asksForMoney, taxedTerms, withDiscount, type Terms } from '$core/billing/terms';
import type { Using } from '../../app';
import type { Order, OrderLine } from '../../db/queries/sales';

export type TaxWishProblem = 'unknown-country' | `tax-id-${TaxIdProblem}`;

/** As it is typed at checkout. */
export interface TaxWish {
	country: string;
	taxId: string;
	client: string;
}

export type TaxAsked =
	{ ok: true; buyer: TaxedBuyer; proofs: CountryProof[] } | { ok: false; code: TaxWishProblem };

const NOBODY: TaxedBuyer = { country: null, taxId: null };

/** Who buys, for the tax; what costs nothing, and a publisher that asks for no tax, ask for no country. */
export function taxAsked(app: Using<'geography'>, rules: TaxRules, price: Terms, wish: TaxWish): TaxAsked {
	if (rules.way === 'none' || !asksForMoney(price)) return { ok: true, buyer: NOBODY, proofs: [] };
	return readTaxedBuyer(app, wish);
}

/** Who they say that they are, and where else that is known from. */
export function readTaxedBuyer(
	{ geography }: Using<'geography'>,
	{ country, taxId, client }: TaxWish
): TaxAsked {
	if (!isCountry(country)) return { ok: false, code: 'unknown-country' };
	const network = geography.countryOf(client);
	const proofs: CountryProof[] = [
		{ from: 'said', country },
		...(network !== null && isCountry(network) ? [{ from: 'network' as const, country: network }] : [])
	];
	if (taxId.trim() === '') return { ok: true, buyer: { country, taxId: null }, proofs };
	const read = readTaxId(country, taxId);
	if (!read.ok) return { ok: false, code: `tax-id-${read.code}` };
	return { ok: true, buyer: { country, taxId: read.taxId }, proofs };
}

/** @param day by the publisher's zone */
export function orderTax(rules: TaxRules, buyer: TaxedBuyer, day: string): Omit<OrderTax, 'proofs'> {
	const way = rules.way === 'none' ? null : rules.way;
	return { buyer, way, taxed: taxedOn(rules, buyer, day) };
}

/** What an order agrees to, of the price of one of its lines. */
export function termsOfLine(
	price: Terms,
	{ tax, seats }: Pick<Order, 'tax' | 'seats'>,
	{ discount }: Pick<OrderLine, 'discount'>
): Terms {
	return taxedTerms(withDiscount(seatedTerms(price, seats), discount), tax ? termsTax(tax.taxed) : null);
}

/** What an agreement keeps of it. */
export function agreedTax({ tax }: Pick<Order, 'tax'>): AgreedTax | null {
	return tax && tax.way !== null ? { buyer: tax.buyer, way: tax.way } : null;
}
