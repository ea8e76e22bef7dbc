/**
 * What a price asks for, and when: something is paid first, perhaps nothing; and then nothing, so many payments more, or one
 * each span of time until it is ended.
 *
 * Payments are counted by their due numbers, from 0, each of which pays for the period that begins with it. Every due moment is
 * computed from the first day, never from the one before. Example: 1.00 for two weeks, then 12.00 a month until it is ended,
 * and 5.00 once at joining: due 0 asks for 6.00, due 1, two weeks later, for 12.00, due 2 a month after due 1.
 */
import { addCalendar, type CalendarUnit } from '../time/calendar';
import type { Instant } from '../time/instant';
import { takenOff, type Discount } from './discount';
import { MAX_AMOUNT_MAJOR, MINOR_DIGITS, type Money } from './money';
import { withTax, type TermsTax } from './tax';

/** A length of time by the calendar. */
export interface Step {
	count: number;
	unit: CalendarUnit;
}

export interface Terms {
	/** ISO 4217 code. */
	currency: string;
	/** Paid at joining, in minor units; 0: nothing. */
	firstMinor: number;
	/** Paid once on top of it. */
	feeMinor: number;
	then: Then;
	/** Taken off what somebody has agreed to; the price itself has none. */
	discount?: Discount;
	/** Put on top of what is asked for, or taken out of it, for whom somebody has agreed to; the price itself has none. */
	tax?: TermsTax;
}

export type Then =
	| { kind: 'nothing' }
	| {
			kind: 'more';
			/** How many payments follow the first; `null`: until it is ended. */
			times: number | null;
			amountMinor: number;
			every: Step;
			/** How long what is paid first lasts, where that is of another length. */
			firstLasts: Step | null;
	  };

/** Longest step of each unit. */
export const MOST_OF_UNIT: Readonly<Record<CalendarUnit, number>> = {
	day: 730,
	week: 104,
	month: 60,
	year: 10
};
/** More instalments than that are a typing error. */
export const MOST_TIMES = 120;

export type TermsProblem =
	| { code: 'unknown-currency' }
	| { code: 'not-an-amount'; of: 'first' | 'fee' | 'then' }
	| { code: 'too-large'; of: 'first' | 'fee' | 'then' }
	/** Payments that follow ask for something. */
	| { code: 'asks-nothing' }
	| { code: 'not-a-step'; of: 'every' | 'first-lasts' }
	| { code: 'not-a-number-of-times' };

/** All that is wrong with terms, in this order. */
export function termsProblems(terms: Terms): TermsProblem[] {
	const { currency, firstMinor, feeMinor, then } = terms;
	if (!Object.hasOwn(MINOR_DIGITS, currency)) return [{ code: 'unknown-currency' }];
	const amounts = [
		...amountProblems('first', firstMinor, currency),
		...amountProblems('fee', feeMinor, currency)
	];
	if (then.kind === 'nothing') return amounts;
	const { times, amountMinor, every, firstLasts } = then;
	return [
		...amounts,
		...amountProblems('then', amountMinor, currency),
		...(amountMinor === 0 ? [{ code: 'asks-nothing' as const }] : []),
		...(isStep(every) ? [] : [{ code: 'not-a-step' as const, of: 'every' as const }]),
		...(firstLasts === null || isStep(firstLasts)
			? []
			: [{ code: 'not-a-step' as const, of: 'first-lasts' as const }]),
		...(times === null || isWhole(times, 1, MOST_TIMES) ? [] : [{ code: 'not-a-number-of-times' as const }])
	];
}

function amountProblems(of: 'first' | 'fee' | 'then', minor: number, currency: string): TermsProblem[] {
	if (!isWhole(minor, 0, Number.MAX_SAFE_INTEGER)) return [{ code: 'not-an-amount', of }];
	const most = MAX_AMOUNT_MAJOR * 10 ** (MINOR_DIGITS[currency] ?? 2);
	return minor > most ? [{ code: 'too-large', of }] : [];
}

function isStep({ count, unit }: Step): boolean {
	return isWhole(count, 1, MOST_OF_UNIT[unit]);
}

function isWhole(value: number, least: number, most: number): boolean {
	return Number.isSafeInteger(value) && value >= least && value <= most;
}

/** What due number `due` asks for, in minor units; `null` after the last. */
export function amountDue(terms: Terms, due: number): number | null {
	const price = priceDue(terms, due);
	if (!price) return null;
	const { tax } = terms;
	return (
		withTax(price.amountMinor - price.discountMinor, tax) + (due === 0 ? withTax(terms.feeMinor, tax) : 0)
	);
}

/** The same before tax, without what is paid once at joining, and with what is taken off it. */
export function priceDue(terms: Terms, due: number): { amountMinor: number; discountMinor: number } | null {
	const { firstMinor, then, currency, discount } = terms;
	if (due > 0 && (then.kind === 'nothing' || (then.times !== null && due > then.times))) return null;
	const amountMinor = due === 0 || then.kind === 'nothing' ? firstMinor : then.amountMinor;
	const isOff = discount && (discount.payments === null || askedBefore(terms, due) < discount.payments);
	return { amountMinor, discountMinor: isOff ? takenOff(discount.off, amountMinor, currency) : 0 };
}

/** How many payments that ask for something come before due number `due`. */
function askedBefore({ firstMinor }: Terms, due: number): number {
	return firstMinor > 0 ? due : Math.max(0, due - 1);
}

/**
 * When period `period` begins, which is when its due is asked for; the period after the last has a beginning, too: there what is
 * paid ends. `null` where nothing is said of time, because nothing follows.
 */
export function startOf(terms: Terms, start: Instant, zone: string, period: number): Instant | null {
	if (period === 0) return start;
	if (terms.then.kind === 'nothing') return null;
	const { every, firstLasts } = terms.then;
	if (!firstLasts) return addCalendar(start, period * every.count, every.unit, zone);
	const after = addCalendar(start, firstLasts.count, firstLasts.unit, zone);
	return period === 1 ? after : addCalendar(after, (period - 1) * every.count, every.unit, zone);
}

/** All that is ever paid, in minor units; `null` where it goes on until it is ended. */
export function totalOf(terms: Terms): number | null {
	const { then } = terms;
	const last = then.kind === 'nothing' ? 0 : then.times;
	if (last === null) return null;
	return Array.from({ length: last + 1 }, (_, due) => amountDue(terms, due) ?? 0).reduce((a, b) => a + b);
}

/** What somebody agrees to for whom that is taken off. */
export function withDiscount(price: Terms, discount: Discount | null): Terms {
	return discount ? { ...price, discount } : price;
}

/** What somebody agrees to of whom tax is asked for like that; `null`: the price is what they pay. */
export function taxedTerms(price: Terms, tax: TermsTax | null): Terms {
	const { tax: _, ...rest } = price;
	return tax ? { ...rest, tax } : rest;
}

/**
 * The same terms from due number `due` on, as terms of their own; `null` where nothing is due by then. From 3 of 4 instalments
 * on, one is paid first and one more follows.
 */
export function termsFrom(terms: Terms, due: number): Terms | null {
	if (due === 0) return terms;
	const { currency, then } = terms;
	if (then.kind === 'nothing' || (then.times !== null && due > then.times)) return null;
	const times = then.times === null ? null : then.times - due;
	const rest = {
		currency,
		firstMinor: then.amountMinor,
		feeMinor: 0,
		// The last instalment is for a span, too: that nothing follows it is said by its number.
		then: { ...then, times, firstLasts: null }
	};
	return taxedTerms(withDiscount(rest, discountFrom(terms, due)), terms.tax ?? null);
}

/** What is left of a discount from due number `due` on; `null`: nothing. */
function discountFrom(terms: Terms, due: number): Discount | null {
	const { discount } = terms;
	if (!discount || discount.payments === null) return discount ?? null;
	const payments = discount.payments - askedBefore(terms, due);
	return payments > 0 ? { ...discount, payments } : null;
}

/** The same amount again and again, until it is ended. */
export function renewingTerms({ minor, currency }: Money, every: Step): Terms {
	const then = { kind: 'more' as const, times: null, amountMinor: minor, every, firstLasts: null };
	return { currency, firstMinor: minor, feeMinor: 0, then };
}

/** The same with its tax in the amounts, as somebody pays them: for showing. */
export function askedTerms(terms: Terms): Terms {
	const { tax, firstMinor, feeMinor, then, discount, ...rest } = terms;
	if (!tax) return terms;
	const paid = (minor: number) => withTax(minor, tax);
	const off = discount?.off.kind === 'amount' ? { ...discount.off, minor: paid(discount.off.minor) } : null;
	return {
		...{ ...rest, firstMinor: paid(firstMinor), feeMinor: paid(feeMinor) },
		then: then.kind === 'more' ? { ...then, amountMinor: paid(then.amountMinor) } : then,
		...(discount ? { discount: off ? { ...discount, off } : discount } : {})
	};
}

/** Whether anything is ever paid. */
export function asksForMoney({ firstMinor, feeMinor, then }: Terms): boolean {
	return firstMinor > 0 || feeMinor > 0 || then.kind === 'more';
}

/** By which prices are compared: what is paid again and again, else what is paid once. */
export function regularMinor({ firstMinor, then }: Terms): number {
	return then.kind === 'more' ? then.amountMinor : firstMinor;
}

/** Whether they ask for the same, whatever they were read from. */
export function isSameTerms(a: Terms, b: Terms): boolean {
	return spelled(a) === spelled(b);
}

function spelled({ currency, firstMinor, feeMinor, then, discount, tax }: Terms): string {
	const own = [...(discount ? [spelledOff(discount)] : []), ...(tax ? [[tax.way, tax.rate]] : [])];
	const first = [currency, firstMinor, feeMinor, ...own];
	if (then.kind === 'nothing') return JSON.stringify(first);
	const { times, amountMinor, every, firstLasts } = then;
	const length = firstLasts && [firstLasts.count, firstLasts.unit];
	return JSON.stringify([...first, times, amountMinor, every.count, every.unit, length]);
}

function spelledOff({ off, payments }: Discount): unknown[] {
	return [payments, ...(off.kind === 'percent' ? [off.percent] : [off.minor, off.currency])];
}
