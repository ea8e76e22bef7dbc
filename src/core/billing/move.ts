/**
 * Moving an agreement to another price: of another rung of its ladder, or of the same plan.
 *
 * Up is at once: what is not used of the present period is taken off, by the second. Down is with the next due, so that what
 * is paid is used; or, as the plan says that is left, at once, for what is paid, and nothing of it goes back. Where the rest is
 * worth more than the new price, a move up waits for the next due, too: nothing is lost.
 * Between prices that are paid once, all that was paid is taken off, and down is at once and asks for nothing, so that nobody
 * pays for the same twice. A joining fee and a first stretch are for those who join: no move asks for the one or gives the other.
 *
 * Example: 9.00 paid for April, and after ten days up to 18.00 a month: 6.00 are not used, and 12.00 are asked for now.
 */
import type { Instant } from '../time/instant';
import { throughOf, type Course } from './agreement-course';
import type { PlanAccess } from './plan-access';
import { phaseOf, periodStart, type Phase } from './phases';
import { moveTo, restOf, type Rest } from './proration';
import { priceOf, withTax } from './tax';
import { amountDue, isSameTerms, priceDue, regularMinor, startOf, taxedTerms, type Terms } from './terms';

/** What is moved to. */
export interface Target {
	planId: string;
	/** From the lowest. */
	rung: number;
	terms: Terms;
	access: PlanAccess;
}

/** What is held now, beside its course. */
export interface Standing {
	rung: number;
	/** Down from its plan is at once, and not at the end of what is paid. */
	isDownAtOnce?: boolean;
	/** All that was paid for it and not refunded, joining fees apart, tax included, in minor units. */
	paidMinor: number;
}

export type MoveAnswer =
	| {
			kind: 'now';
			/** In minor units of the target's currency, before tax that comes on top or is taken out. */
			priceMinor: number;
			creditMinor: number;
			/** What is paid now. */
			asksMinor: number;
			/** Of what the credit is the rest; `null`: it was paid once. */
			rest: Rest | null;
			next: { at: Instant; amountMinor: number } | null;
			/** What is agreed to by it. */
			terms: Terms;
	  }
	/** At once, for what is paid; its price with the next due. */
	| { kind: 'lower'; at: Instant; amountMinor: number; terms: Terms }
	/** With the next due. */
	| { kind: 'next'; at: Instant; amountMinor: number; terms: Terms }
	| { kind: 'refused'; why: MoveRefusal };

/**
 * `not-begun`: what was bought begins on a day to come, and all of it is left. `paid-once`: what was paid once does not turn
 * into what is paid by and by. `free`: what costs nothing is joined when what is paid has ended. `waits`: it is moved there
 * already.
 */
export type MoveRefusal =
	| 'has-ended'
	| 'not-begun'
	| 'owes'
	| 'rests'
	| 'cancelled'
	| 'instalments'
	| 'paid-once'
	| 'free'
	| 'other-currency'
	| 'same'
	| 'waits';

const refused = (why: MoveRefusal): MoveAnswer => ({ kind: 'refused', why });

/** What a move asks for: as for those who have joined before. */
export function termsOfMove({ currency, firstMinor, then, ...rest }: Terms): Terms {
	const tax = rest.tax ?? null;
	if (then.kind === 'nothing') return taxedTerms({ currency, firstMinor, feeMinor: 0, then }, tax);
	const { amountMinor } = then;
	const again = { ...then, firstLasts: null };
	return taxedTerms({ currency, firstMinor: amountMinor, feeMinor: 0, then: again }, tax);
}

/** @param zone the publisher's */
export function moveAt(
	course: Course,
	standing: Standing,
	target: Target,
	zone: string,
	now: Instant
): MoveAnswer {
	const { state, phases } = course;
	const present = phaseOf(phases, state.period);
	const terms = termsOfMove(target.terms);
	if (state.kind === 'ended') return refused('has-ended');
	if (now < phases[0].start) return refused('not-begun');
	if (state.kind === 'renewing' || state.kind === 'owing') return refused('owes');
	if (state.kind === 'resting') return refused('rests');
	if (isInstalments(target.terms)) return refused('instalments');
	if (terms.currency !== present.terms.currency) return refused('other-currency');
	const isSame = isLike(present, target.planId, terms);
	const later = phases.find(({ from }) => from > state.period);
	if (later && isLike(later, target.planId, terms)) return refused('waits');
	// What is to come is taken back by moving to what there is.
	if (isSame) return later ? atNextDue(course, present.terms, nextMinor(course, present)) : refused('same');
	if (state.kind === 'finished') return ofPaidOnce(course, standing, target, terms, { zone, now });
	if (isInstalments(present.terms)) return refused('instalments');
	if (terms.firstMinor === 0) return refused('free');
	const isUp =
		target.rung === standing.rung
			? regularMinor(terms) > regularMinor(present.terms)
			: target.rung > standing.rung;
	if (!isUp) {
		const next = atNextDue(course, terms);
		const isLower = standing.isDownAtOnce && target.rung < standing.rung;
		return isLower && next.kind === 'next' ? { ...next, kind: 'lower' } : next;
	}
	const rest = restNow(course, now);
	if (moveTo(terms.firstMinor, rest.worthMinor).beyondMinor > 0) return atNextDue(course, terms);
	return atOnce(terms, rest, zone, now);
}

/**
 * What the publisher moves a member to, who is not there to pay: what would ask for something now is asked for with the next due.
 * Example: up from 9.00 to 18.00 a month on 11 April, by the publisher: 18.00 are asked for on 1 May, and nothing before.
 */
export function withoutAsking(course: Course, answer: MoveAnswer): MoveAnswer {
	if (answer.kind !== 'now' || answer.asksMinor === 0) return answer;
	return atNextDue(course, answer.terms);
}

function atOnce(terms: Terms, rest: Rest | null, zone: string, now: Instant): MoveAnswer {
	const at = startOf(terms, now, zone, 1);
	const amountMinor = amountDue(terms, 1);
	const next = at === null || amountMinor === null ? null : { at, amountMinor };
	return { kind: 'now', ...asking(terms, rest?.worthMinor ?? 0), rest, next, terms };
}

/** What is asked for now where that much is worth something still: tax is of what is left. */
function asking(terms: Terms, worthMinor: number) {
	const priceMinor = terms.firstMinor;
	const { creditMinor, asksMinor } = moveTo(priceMinor, worthMinor);
	return { priceMinor, creditMinor, asksMinor: withTax(asksMinor, terms.tax) };
}

function isInstalments({ then }: Terms): boolean {
	return then.kind === 'more' && then.times !== null;
}

function isLike(phase: { planId: string; terms: Terms }, planId: string, terms: Terms): boolean {
	// Tax is the law's: whatever its rate, the price is the same.
	const untaxed = (one: Terms) => taxedTerms(one, null);
	return phase.planId === planId && isSameTerms(untaxed(termsOfMove(phase.terms)), untaxed(terms));
}

function atNextDue(
	course: Course,
	terms: Terms,
	amountMinor = withTax(regularMinor(terms), terms.tax)
): MoveAnswer {
	// What was cancelled has no next due.
	if (course.state.kind === 'ending') return refused('cancelled');
	const at = throughOf(course, course.state.period);
	return at === null ? refused('paid-once') : { kind: 'next', at, amountMinor, terms };
}

/** What the next due would ask for as it was agreed: with what is taken off it still. */
function nextMinor({ state }: Course, { from, terms }: Phase): number {
	return amountDue(terms, state.period + 1 - from) ?? withTax(regularMinor(terms), terms.tax);
}

/** What is all paid: for good, or for a time, of which the rest is what it is worth. */
function ofPaidOnce(
	{ phases, state, open }: Course,
	{ rung, paidMinor }: Standing,
	target: Target,
	terms: Terms,
	{ zone, now }: { zone: string; now: Instant }
): MoveAnswer {
	const present = phaseOf(phases, state.period);
	if (open === null || (open.until !== null && open.until <= now)) return refused('has-ended');
	// What cost nothing takes nothing off, whatever it is moved to.
	const once = phases.filter(({ from, terms: of }) => from <= state.period && of.then.kind === 'nothing');
	const ownMinor = priceOf(paidMinor, present.terms.tax);
	const worthMinor = Math.min(ownMinor, Math.max(0, ...once.map((phase) => phase.terms.firstMinor)));
	if (terms.then.kind === 'more')
		return worthMinor > 0 ? refused('paid-once') : atOnce(terms, null, zone, now);
	// The same rights for another amount are no move.
	if (present.planId === target.planId) return refused('same');
	const isDown = target.rung < rung;
	if (present.end !== null) {
		// A move begins the time anew: down would give it for nothing.
		if (isDown) return refused('paid-once');
		const rest = restOf(paidAt(present.terms, 0), present.start, present.end, now);
		const left = { ...rest, worthMinor: Math.min(rest.worthMinor, ownMinor) };
		return moveTo(terms.firstMinor, left.worthMinor).beyondMinor > 0
			? refused('paid-once')
			: atOnce(terms, left, zone, now);
	}
	const priceMinor = terms.firstMinor;
	const isForNothing = isDown && (worthMinor > 0 || priceMinor === 0);
	const asked = asking(terms, isForNothing ? priceMinor : worthMinor);
	return { kind: 'now', ...asked, rest: null, next: null, terms };
}

/** What the present period is worth still: of its price, whoever paid it in how many parts. */
function restNow(course: Course, now: Instant): Rest {
	const { phases, zone, state } = course;
	const { from, terms } = phaseOf(phases, state.period);
	const paid = paidAt(terms, state.period - from);
	const [begins, ends] = [periodStart(phases, zone, state.period), throughOf(course, state.period)];
	const isRefunded = course.refunded.has(state.period);
	if (begins === null || ends === null || isRefunded)
		return { paidSeconds: 0, leftSeconds: 0, worthMinor: 0 };
	return restOf(paid, begins, ends, now);
}

/** What a due has asked for, what is paid once at joining apart. */
function paidAt(terms: Terms, due: number): number {
	const price = priceDue(terms, due);
	return price ? price.amountMinor - price.discountMinor : 0;
}

/** Whether an agreement is in a state that can be moved. */
export function mayMove({ state }: Course): boolean {
	return (
		state.kind === 'first' || state.kind === 'running' || state.kind === 'ending' || state.kind === 'finished'
	);
}

/** The period that a move at once begins: an order for it pays for that one, and for no other. */
export function periodOfMove({ state, paid }: Course): number {
	return paid.has(state.period) ? state.period + 1 : state.period;
}
