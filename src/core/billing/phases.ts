/**
 * An agreement keeps what was agreed for as long as it lasts, in phases: a change of price, a move to another plan and coming
 * back from a rest each begin the next one.
 *
 * A phase says what is asked for from one due number on, and from which moment its dues are counted. Example: bought on
 * 31 January at 12.00 a month; from due 3 on the price is 15.00: the second phase begins with due 3, on 30 April.
 */
import { addCalendar } from '../time/calendar';
import type { Instant } from '../time/instant';
import { accessEnd, type PlanAccess } from './plan-access';
import { isSameTax, withTax, type TermsTax } from './tax';
import {
	amountDue,
	isSameTerms,
	startOf,
	taxedTerms,
	termsFrom,
	withDiscount,
	type Terms,
	type Then
} from './terms';

export interface Phase {
	/** The due number with which it begins. */
	from: number;
	start: Instant;
	planId: string;
	terms: Terms;
	/** When access ends whatever is paid; `null`: never by itself. */
	end: Instant | null;
	/** Whether it stays open when all is paid. */
	isForGood: boolean;
	/** From where dues are counted, where that is another one than its beginning. */
	anchor?: { from: number; start: Instant };
	/** The plan whose price is paid for it, where that is another one: whoever went down meanwhile. */
	pricedAs?: string;
	/** The publisher has set another price for it. */
	isRepriced?: true;
	/** Where another tax is the law's from a due number on, which changes what is paid and nothing else. */
	taxes?: readonly { from: number; tax: TermsTax | null }[];
	/** Whether the period before it stays open a little, while its first due is asked for: after a rest it does not. */
	hasLeeway: boolean;
}

/** What somebody agreed to. */
export interface Agreed {
	planId: string;
	terms: Terms;
	access: PlanAccess;
}

/** Days that access outlives the paid period where a payment follows, so that no renewal or retry cuts a playing member. */
export const LEEWAY_DAYS = 7;

/** In the order of their due numbers; the first begins with 0. */
export type Phases = readonly [Phase, ...Phase[]];

/** @param zone the publisher's */
export function phaseBegun(from: number, start: Instant, zone: string, agreed: Agreed): Phase {
	const { planId, terms, access } = agreed;
	return {
		...{ from, start, planId, terms, hasLeeway: true },
		end: accessEnd(access, start, zone),
		isForGood: access.kind === 'for-good'
	};
}

/** With another phase from its due number on; what was to come from there is replaced. */
export function withPhase(phases: Phases, next: Phase): Phases {
	const [first, ...others] = phases;
	return next.from <= first.from ? [next] : [first, ...others.filter(({ from }) => from < next.from), next];
}

export function phaseOf(phases: Phases, period: number): Phase {
	const phase = phases.findLast(({ from }) => from <= period) ?? phases[0];
	const taxed = phase.taxes?.findLast(({ from }) => from <= period);
	return taxed ? { ...phase, terms: taxedTerms(phase.terms, taxed.tax) } : phase;
}

type Taxes = NonNullable<Phase['taxes']>;

function taxesWith(taxes: Taxes, tax: Taxes[number]): Taxes {
	return [...taxes.filter(({ from }) => from !== tax.from), tax].sort((a, b) => a.from - b.from);
}

/** With another tax from a due number on, until the next that is known. */
export function withTaxFrom(phases: Phases, from: number, tax: TermsTax | null): Phases {
	const of = phaseOf(phases, from);
	if (isSameTax(of.terms.tax, tax)) return phases;
	const turned = (one: Phase): Phase =>
		one.from === of.from ? { ...one, taxes: taxesWith(one.taxes ?? [], { from, tax }) } : one;
	const [first, ...others] = phases;
	return [turned(first), ...others.map(turned)];
}

/** What a due number asks for, in minor units; `null` where nothing is due any more. */
export function amountAsked(phases: Phases, due: number): number | null {
	const phase = phaseOf(phases, due);
	return amountDue(phase.terms, due - phase.from);
}

/** The same without what is paid once at joining. */
export function regularAsked(phases: Phases, due: number): number | null {
	const { terms, from } = phaseOf(phases, due);
	const asked = amountDue(terms, due - from);
	return asked === null || due > from ? asked : asked - withTax(terms.feeMinor, terms.tax);
}

/** When a period begins; `null` where nothing follows what was paid once. */
export function periodStart(phases: Phases, zone: string, period: number): Instant | null {
	return beginningIn(phaseOf(phases, period), zone, period);
}

function beginningIn({ terms, anchor, ...own }: Phase, zone: string, period: number): Instant | null {
	const { from, start } = anchor ?? own;
	return startOf(terms, start, zone, period - from);
}

/** The first moment after a period: what is paid when that period is paid. A phase that begins sooner cuts it short. */
export function paidThrough(phases: Phases, zone: string, period: number): Instant | null {
	const phase = phaseOf(phases, period);
	const own = beginningIn(phase, zone, period + 1);
	const next = phases.find(({ from }) => from === period + 1);
	if (own === null) return next?.start ?? null;
	return next ? Math.min(own, next.start) : own;
}

/**
 * The due number after a period; `null` where nothing is due any more. What goes on until it is ended is not asked for when
 * access has ended by itself; instalments are owed, whatever ends.
 */
export function dueAfter(phases: Phases, zone: string, period: number): number | null {
	const due = period + 1;
	if (amountAsked(phases, due) === null) return null;
	const { end, terms } = phaseOf(phases, due);
	const isOwed = terms.then.kind === 'more' && terms.then.times !== null;
	const at = periodStart(phases, zone, due);
	return at === null || (!isOwed && end !== null && at >= end) ? null : due;
}

/**
 * Another plan from a moment within a period on, which stays paid and ends when it did: what is asked for, and when, stays as it
 * was agreed. `null`: nothing is paid by the period.
 */
export function underPlan(
	phases: Phases,
	zone: string,
	period: number,
	{ planId, access, at }: { planId: string; access: PlanAccess; at: Instant }
): Phase | null {
	const { taxes: _, ...phase } = phaseOf(phases, period);
	const begun = beginningIn(phase, zone, period);
	const left = termsFrom(phase.terms, period - phase.from);
	if (begun === null || !left) return null;
	const { end, isForGood } = phaseBegun(period, at, zone, { planId, terms: left, access });
	const own = { ...phase, planId, end, isForGood, pricedAs: phase.pricedAs ?? phase.planId };
	// As its beginning, where it is: a first stretch of another length is one still.
	if (period === phase.from) return own;
	return { ...own, from: period, start: begun, terms: left, ...anchoredAs(phase, zone, left) };
}

function anchoredAs(phase: Phase, zone: string, left: Terms): Pick<Phase, 'anchor'> {
	const anchor = anchorOf(phase, zone, left, left);
	return anchor ? { anchor } : {};
}

/** The same as before from a due number on, counted from another moment; `null` where nothing is due by then. */
export function continued(
	phases: Phases,
	from: number,
	{ start, hasLeeway }: { start: Instant; hasLeeway: boolean }
): Phase | null {
	const { taxes: _, anchor: __, isRepriced: ___, pricedAs: ____, ...phase } = phaseOf(phases, from);
	const terms = termsFrom(phase.terms, from - phase.from);
	return terms && { ...phase, from, terms, start, hasLeeway };
}

/**
 * The same for another price from a due number on, where it goes on until it is ended: due on the days on which it was. `null`:
 * nothing is due by then, or it is paid by instalments.
 */
export function repricedFrom(phases: Phases, zone: string, from: number, price: Terms): Phase | null {
	const { taxes: _, pricedAs: __, ...phase } = phaseOf(phases, from);
	const left = termsFrom(phase.terms, from - phase.from);
	const start = beginningIn(phase, zone, from);
	if (!left || start === null) return null;
	const terms = repricedTerms(left, price);
	return (
		terms && { ...phase, from, start, terms, anchor: anchorOf(phase, zone, left, terms), isRepriced: true }
	);
}

/** What is left, for another price: with what is taken off it still, and its tax. `null`: it is not such a price, or the same. */
export function repricedTerms(left: Terms, price: Terms): Terms | null {
	const isOngoing = ({ then }: Terms) => then.kind === 'more' && then.times === null;
	if (!isOngoing(left) || !isOngoing(price) || left.currency !== price.currency) return null;
	const { currency, then } = price;
	const amountMinor = then.kind === 'more' ? then.amountMinor : 0;
	const asked = {
		currency,
		firstMinor: amountMinor,
		feeMinor: 0,
		then: { ...then, firstLasts: null } as Then
	};
	const terms = taxedTerms(withDiscount(asked, left.discount ?? null), left.tax ?? null);
	return isSameTerms(terms, left) ? null : terms;
}

/** The days stay where the rhythm does: a change on 28 February of what was bought on 31 January is due again on 31 March. */
function anchorOf(
	{ terms, from, start, anchor }: Omit<Phase, 'taxes'>,
	zone: string,
	left: Terms,
	next: Terms
): NonNullable<Phase['anchor']> | undefined {
	if (left.then.kind !== 'more' || next.then.kind !== 'more') return undefined;
	const isSameRhythm =
		left.then.every.count === next.then.every.count && left.then.every.unit === next.then.every.unit;
	if (!isSameRhythm) return undefined;
	const hasStretch = terms.then.kind === 'more' && terms.then.firstLasts !== null;
	if (!hasStretch) return anchor ?? { from, start };
	const after = startOf(terms, start, zone, 1);
	return after === null ? undefined : { from: from + 1, start: after };
}

/** Until when a paid period is open where another payment follows it. */
export function openWithLeeway(phases: Phases, zone: string, period: number): Instant | null {
	const through = paidThrough(phases, zone, period);
	return through === null ? null : addCalendar(through, LEEWAY_DAYS, 'day', zone);
}

/** The earlier of two ends; `null` is none. */
export function sooner(a: Instant | null, b: Instant | null): Instant | null {
	if (a === null || b === null) return a ?? b;
	return Math.min(a, b);
}
