/**
 * The tax in what is paid, or on top of it.
 *
 * What is sold by wire is taxed where its buyer is, at the rate of the day. Whoever buys for a business in another country of
 * the Union, and has a tax number there, owes the tax themselves: then none is asked for (Directive 2006/112/EC, Articles 44,
 * 58 and 196). Prices either have the tax in them, and stay the same whatever the rate, or it comes on top of them.
 *
 * Example: 19 % in a price of 11.90 are 1.90; on top of 10.00 they are the same. To a business abroad both ask for 10.00.
 *
 * Rates are whole numbers of thousandths of a percent: 25.5 % is 25500. Amounts are in minor units.
 */
import { isDay } from '../time/calendar';
import { isCountry, isInUnion, type Country } from '../text/countries';

export const TAX_WAYS = ['none', 'included', 'added'] as const;
/** Whether prices have the tax in them; `none`: no tax is asked for. */
export type TaxWay = (typeof TAX_WAYS)[number];

export interface TaxRate {
	country: Country;
	/** What it is called there. */
	name: string;
	rate: number;
	/** The first day that it counts, such as 2026-07-01, by the publisher's zone. */
	from: string;
}

export interface TaxRules {
	way: TaxWay;
	/** Where the publisher is. */
	home: Country | null;
	/**
	 * Whether consumers anywhere in the Union pay the publisher's own rate, as those may ask who sell little abroad (Article 59c
	 * of the directive).
	 */
	isHomeRateInUnion: boolean;
	rates: readonly TaxRate[];
}

export const NO_TAX: TaxRules = { way: 'none', home: null, isHomeRateInUnion: false, rates: [] };

/** Of whom it depends. */
export interface TaxedBuyer {
	/** Where they are; `null`: they were not asked, and count as where the publisher is. */
	country: Country | null;
	/** Valid in that country; `null`: they buy for themselves. */
	taxId: string | null;
}

/** What comes of the rules for one buyer on one day. */
export type Taxed =
	| { kind: 'none' }
	/** `reversed`: the buyer owes it; it is not asked for. */
	| {
			kind: 'taxed' | 'reversed';
			/** Where it is owed. */
			country: Country;
			name: string;
			rate: number;
			/** Whether prices have it in them. */
			isIncluded: boolean;
	  };

/** What changes the amounts that somebody has agreed to. */
export interface TermsTax {
	/** `taken-out`: prices have it in them, and this buyer does not pay it. */
	way: 'added' | 'taken-out';
	rate: number;
}

export const UNTAXED: Taxed = { kind: 'none' };
const WHOLE = 100_000n;

/**
 * @param day such as 2026-07-01, by the publisher's zone
 * @param agreed the way that was agreed to, where somebody has bought already
 */
export function taxedOn(
	rules: TaxRules,
	buyer: TaxedBuyer,
	day: string,
	agreed: Exclude<TaxWay, 'none'> | null = null
): Taxed {
	if (rules.way === 'none' || rules.home === null) return UNTAXED;
	const isIncluded = (agreed ?? rules.way) === 'included';
	const at = buyer.country ?? rules.home;
	const isAbroadInUnion = at !== rules.home && isInUnion(at) && isInUnion(rules.home);
	const isReversed = isAbroadInUnion && buyer.taxId !== null;
	const country = isAbroadInUnion && !isReversed && rules.isHomeRateInUnion ? rules.home : at;
	const found = rateOn(rules.rates, country, day);
	if (!found) return isReversed ? reversedWithout(country, isIncluded) : UNTAXED;
	const { name, rate } = found;
	return { kind: isReversed ? 'reversed' : 'taxed', country, name, rate, isIncluded };
}

/** A business owes the tax whatever its rate is: where the publisher knows none, nothing is taken out of the price. */
function reversedWithout(country: Country, isIncluded: boolean): Taxed {
	return { kind: 'reversed', country, name: '', rate: 0, isIncluded };
}

/** The rate of a country on a day; `null`: none counts. Of two from the same day the later in the list counts. */
export function rateOn(rates: readonly TaxRate[], country: Country, day: string): TaxRate | null {
	return rates
		.filter((one) => one.country === country && one.from <= day)
		.reduce<TaxRate | null>((last, one) => (last === null || one.from >= last.from ? one : last), null);
}

/** What it changes of the amounts that are agreed to; `null`: nothing, the price is what is paid. */
export function termsTax(taxed: Taxed): TermsTax | null {
	if (taxed.kind === 'none' || taxed.rate === 0) return null;
	const { kind, rate, isIncluded } = taxed;
	if (kind === 'reversed') return isIncluded ? { way: 'taken-out', rate } : null;
	return isIncluded ? null : { way: 'added', rate };
}

export function isSameTax(a: TermsTax | null | undefined, b: TermsTax | null | undefined): boolean {
	return (a ?? null) === (b ?? null) || (a?.way === b?.way && a?.rate === b?.rate);
}

/** What is paid where a price asks for that much. */
export function withTax(priceMinor: number, tax: TermsTax | null | undefined): number {
	if (!tax) return priceMinor;
	return tax.way === 'added' ? priceMinor + onTop(priceMinor, tax.rate) : netOf(priceMinor, tax.rate);
}

/** What a price asks for where that much is paid: the other way round. */
export function priceOf(paidMinor: number, tax: TermsTax | null | undefined): number {
	if (!tax) return paidMinor;
	return tax.way === 'added' ? netOf(paidMinor, tax.rate) : paidMinor + onTop(paidMinor, tax.rate);
}

/** The tax that is part of what is paid. */
export function taxIn(paidMinor: number, taxed: Taxed): number {
	return taxed.kind === 'taxed' ? paidMinor - netOf(paidMinor, taxed.rate) : 0;
}

/** What was taken off a price, before tax, in minor units: so much more would have been left to the publisher. */
export function discountNet(
	{ amountMinor, discountMinor }: { amountMinor: number; discountMinor: number },
	taxed: Taxed
): number {
	if (taxed.kind === 'none' || !taxed.isIncluded) return discountMinor;
	return netOf(amountMinor, taxed.rate) - netOf(amountMinor - discountMinor, taxed.rate);
}

/** Rounded to the nearest minor unit, half of one up. */
function onTop(netMinor: number, rate: number): number {
	return Number((BigInt(netMinor) * BigInt(rate) + WHOLE / 2n) / WHOLE);
}

/** Without the tax that is in it, rounded likewise. */
function netOf(grossMinor: number, rate: number): number {
	const all = WHOLE + BigInt(rate);
	return Number((2n * BigInt(grossMinor) * WHOLE + all) / (2n * all));
}

/** As somebody has agreed to it: they stay who they said they are, and the way is that of the price they bought. */
export interface AgreedTax {
	buyer: TaxedBuyer;
	way: Exclude<TaxWay, 'none'>;
}

/** @param agreed `null`: nothing was said of tax then, and the price stays what it was, whatever is in it by now */
export function taxedAsAgreed(rules: TaxRules, agreed: AgreedTax | null, day: string): Taxed {
	const { buyer, way } = agreed ?? { buyer: { country: null, taxId: null }, way: 'included' as const };
	return taxedOn(rules, buyer, day, way);
}

/** What an order says of the tax in it. */
export interface OrderTax {
	buyer: TaxedBuyer;
	taxed: Taxed;
	/** As the order was placed: `null` where no tax was asked for. */
	way: AgreedTax['way'] | null;
	proofs: readonly CountryProof[];
}

export type TaxRateProblem =
	'not-a-country' | 'not-a-rate' | 'not-a-day' | 'name-missing' | 'name-too-long' | 'twice';

/** More rows than that are a mistake. */
export const MOST_RATES = 400;
const MOST_RATE = WHOLE;

/** What is wrong with each row of rates; `null`: nothing. */
export function rateProblems(rates: readonly TaxRate[]): (TaxRateProblem | null)[] {
	const known = new Set<string>();
	return rates.map(({ country, name, rate, from }) => {
		if (!isCountry(country)) return 'not-a-country';
		if (name.trim() === '') return 'name-missing';
		if (name.length > 20) return 'name-too-long';
		if (!Number.isSafeInteger(rate) || rate < 0 || BigInt(rate) > MOST_RATE) return 'not-a-rate';
		if (!isDay(from)) return 'not-a-day';
		const key = `${country} ${from}`;
		if (known.has(key)) return 'twice';
		known.add(key);
		return null;
	});
}

/** A rate as it is typed: “19”, “25,5”, “8.875 %”; `null`: it is none. */
export function readRate(typed: string): number | null {
	const match = /^(\d{1,3})(?:[.,](\d{1,3}))?\s*%?$/.exec(typed.trim());
	if (!match) return null;
	const rate = Number(match[1]) * 1000 + Number((match[2] ?? '').padEnd(3, '0'));
	return rate <= Number(MOST_RATE) ? rate : null;
}

/** As a number of percent, for formatting: 25500 is 25.5. */
export function percentOf(rate: number): number {
	return rate / 1000;
}

/** From where it is known in which country a buyer is: they said so, their bank did, or the network they came from. */
export const PROOF_SOURCES = ['said', 'card', 'network'] as const;
export type ProofSource = (typeof PROOF_SOURCES)[number];
export interface CountryProof {
	from: ProofSource;
	country: Country;
}

/**
 * Whether a buyer's country is proved: two sources agree, as Article 24b of Regulation (EU) 282/2011 asks for. `differ`: one
 * says another country, and no two say this one.
 */
export function proofsOf(
	country: Country | null,
	proofs: readonly CountryProof[]
): 'two' | 'one' | 'differ' | 'none' {
	const same = proofs.filter((one) => one.country === country).length;
	if (same >= 2) return 'two';
	if (proofs.some((one) => one.country !== country)) return 'differ';
	return same === 1 ? 'one' : 'none';
}

/** A row of the report: what was sold where, at which rate, in a span of time. */
export interface TaxSum {
	country: Country;
	name: string;
	rate: number;
	kind: 'taxed' | 'reversed';
	currency: string;
	/** What is left when refunds are taken off: they stand in the span in which they were made. */
	netMinor: number;
	taxMinor: number;
}

/** The quarters of a year as spans of days, `[from, before)`. */
export function quartersOf(year: number): { quarter: number; from: string; before: string }[] {
	const first = (quarter: number) =>
		quarter === 4 ? `${year + 1}-01-01` : `${year}-${String(quarter * 3 + 1).padStart(2, '0')}-01`;
	return [0, 1, 2, 3].map((n) => ({ quarter: n + 1, from: first(n), before: first(n + 1) }));
}
