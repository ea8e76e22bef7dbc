/**
 * What has become of an agreement, from all that is known of it.
 *
 * One rule: what happened counts by the moment at which it happened, and not by when it was heard of. The facts are put in
 * the order of their moments and gone through; so the same facts, heard in any order, end in the same. What was captured
 * before the end counts, what was captured after it goes back; of two captures of one period one stays. Example: while a
 * renewal is under way the member cancels at noon; was the money captured at 11:59, then that period is paid and runs out at
 * its end; at 12:01, then it goes back.
 *
 * A dispute, of whichever period, shuts until it is won. What is to be done about a change is told by `agreement-effects.ts`.
 */
import type { Instant } from '../time/instant';
import {
	attemptAt,
	inOrder,
	lapseDays,
	USUAL_COLLECTING,
	type AgreementFact,
	type AgreementState,
	type AgreementTurn,
	type Charge,
	type EndReason,
	type TaxedThen
} from './agreement-facts';
import { answerTo } from './agreement-answers';
import { entered, paidState, settled, throughOf, type Course } from './agreement-course';
import { isSameTerms, type Terms } from './terms';
import {
	amountAsked,
	continued,
	dueAfter,
	periodStart,
	phaseBegun,
	phaseOf,
	repricedFrom,
	underPlan,
	withPhase,
	withTaxFrom,
	type Agreed
} from './phases';

/** Where the known facts begin: the first period was just paid, or what an older record says. */
export interface Beginning {
	state: AgreementState;
	at: Instant;
	/** The charges that pay for periods by then. */
	paid: readonly Charge[];
}

/** What was agreed to at first, and from when dues are counted. */
export interface Origin extends Agreed {
	start: Instant;
	/** The publisher's zone. */
	zone: string;
}

export function joinedAt(at: Instant): Beginning {
	return { at, state: { kind: 'running', period: 0 }, paid: [{ period: 0, attempt: 1 }] };
}

export function courseOf(origin: Origin, beginning: Beginning, facts: readonly AgreementFact[]): Course {
	return [...facts].sort(inOrder).reduce(after, begunWith(origin, beginning));
}

/** What it was after each moment at which something happened, from its beginning on; of one moment, the last. */
export function coursesOf(
	origin: Origin,
	beginning: Beginning,
	facts: readonly AgreementFact[]
): { at: Instant; course: Course }[] {
	const all = [{ at: beginning.at, course: begunWith(origin, beginning) }];
	for (const fact of [...facts].sort(inOrder)) {
		const last = all.at(-1);
		if (!last) break;
		const course = after(last.course, fact);
		if (fact.at <= last.at) last.course = course;
		else all.push({ at: fact.at, course });
	}
	return all;
}

function begunWith(origin: Origin, beginning: Beginning): Course {
	const { state, at } = beginning;
	const began: Course = {
		...{ state, zone: origin.zone, phases: [phaseBegun(0, origin.start, origin.zone, origin)] },
		...{ open: null, due: null, charge: null, collecting: USUAL_COLLECTING, interrupted: null },
		paid: new Map(beginning.paid.map((charge) => [charge.period, charge])),
		...{ surplus: [], refunded: new Map(), disputed: new Set() }
	};
	// What was paid first may have been all.
	return state.kind === 'running' ? settled(began, state.period, at) : entered(began, state, at);
}

/**
 * A course with one more fact: what it was goes on where that is the last of all, and is worked out anew where something else
 * came later. The same as `courseOf` with it.
 * @param facts all that were known, of which `course` came
 */
export function courseWith(
	origin: Origin,
	beginning: Beginning,
	facts: readonly AgreementFact[],
	course: Course,
	fact: AgreementFact
): Course {
	const isLast = facts.every((one) => inOrder(one, fact) <= 0);
	return isLast ? after(course, fact) : courseOf(origin, beginning, [...facts, fact]);
}

function after(course: Course, fact: AgreementFact): Course {
	const { at } = fact;
	switch (fact.kind) {
		case 'period-over':
			return periodOver(course, fact, at);
		case 'rest-over':
			return course.state.period === fact.period ? woken(course, fact, at) : course;
		case 'retry-due':
			return isAt(course.state, fact)
				? { ...course, charge: { period: fact.period, attempt: fact.attempt }, due: null }
				: course;
		case 'grace-over':
			return isAt(course.state, { period: fact.period, attempt: null }) ? ended(course, 'unpaid') : course;
		case 'captured':
			return captured(course, chargeOf(fact), at);
		case 'declined':
			return declined(course, fact, at);
		case 'refunded':
			return refunded(course, chargeOf(fact), fact.keepsAccess ?? false);
		case 'disputed':
			return disputed(course, chargeOf(fact));
		case 'won':
			return won(course, chargeOf(fact), at);
		case 'cancel':
			return cancelled(course, at);
		case 'stop':
			return answerTo(course, fact).kind === 'possible' ? ended(course, 'cancelled') : course;
		case 'resume':
			return course.state.kind === 'ending' ? settled(course, course.state.period, at) : course;
		case 'rest':
			return answerTo(course, fact).kind === 'possible'
				? entered(course, { kind: 'resting', period: course.state.period, until: fact.until }, at)
				: course;
		case 'wake':
			return woken(course, fact, at);
		case 'moved':
			return moved(course, fact, at);
		case 'changed':
			return changed(course, fact);
		case 'lowered':
			return lowered(course, fact, at);
		case 'repriced':
			return repriced(course, fact.terms);
		case 'taxed':
			return course.state.kind === 'ended' ? course : taxedAfter(course, course.state.period, fact);
	}
}

function chargeOf({ period, attempt }: Charge): Charge {
	return { period, attempt };
}

/** What is due after a period is taxed as the law says then, whatever was paid of it by now. */
function taxedAfter(course: Course, period: number, { tax }: TaxedThen): Course {
	return tax === undefined ? course : { ...course, phases: withTaxFrom(course.phases, period + 1, tax) };
}

function periodOver(
	before: Course,
	{ period, collecting = USUAL_COLLECTING, ...then }: Extract<AgreementFact, { kind: 'period-over' }>,
	at: Instant
): Course {
	const course = taxedAfter(before, period, then);
	const { state, open } = course;
	if (state.period !== period) return course;
	// What was cancelled runs out by itself at this very moment.
	if (state.kind === 'ending') return { ...ended(course, 'cancelled'), open };
	if (state.kind !== 'running' && state.kind !== 'first') return course;
	if (dueAfter(course.phases, course.zone, period) === null) return settled(course, period, at);
	return asked({ ...course, collecting }, period + 1, at);
}

function asked(course: Course, period: number, at: Instant): Course {
	const charge: Charge = { period, attempt: 1 };
	return { ...entered(course, { kind: 'renewing', period, attempt: 1 }, at), charge };
}

/** Before what is paid runs out it goes on as if nothing had been; after it, dues are counted from then. */
function woken(resting: Course, then: TaxedThen, at: Instant): Course {
	const { state } = resting;
	if (state.kind !== 'resting') return resting;
	const { period } = state;
	const course = taxedAfter(resting, period, then);
	const through = throughOf(course, period);
	if (through === null || at < through) return settled(course, period, at);
	const next = continued(course.phases, period + 1, { start: at, hasLeeway: at === through });
	if (!next) return course;
	const phases = withPhase(course.phases, next);
	return asked({ ...course, phases, collecting: USUAL_COLLECTING }, period + 1, at);
}

/** Whether that try is under way, or comes next. */
function isAt(state: AgreementState, wanted: { period: number; attempt: number | null }): boolean {
	return (
		(state.kind === 'renewing' || state.kind === 'owing') &&
		state.period === wanted.period &&
		state.attempt === wanted.attempt
	);
}

function captured(course: Course, charge: Charge, at: Instant): Course {
	const { period } = charge;
	const { state, disputed, interrupted } = course;
	const known = [course.paid.get(period), course.refunded.get(period), ...course.surplus];
	if (known.some((one) => isSame(one, charge))) return course;
	const isFirst = !course.paid.has(period) && !course.refunded.has(period);
	const isAsked = amountAsked(course.phases, period) !== null;
	// While a dispute is open nothing is decided: what was under way counts.
	const isOpen = state.kind !== 'ended' || (disputed.size > 0 && interrupted !== null);
	if (!isFirst || !isAsked || !isOpen) return { ...course, surplus: [...course.surplus, charge] };
	const next = { ...course, paid: new Map(course.paid).set(period, charge) };
	if (state.kind !== 'ended') return period >= state.period ? settled(next, period, at) : next;
	const isLater = interrupted !== null && period >= interrupted.period;
	return isLater ? { ...next, interrupted: paidState(next, period) } : next;
}

function declined(course: Course, { period, attempt }: Charge, at: Instant): Course {
	if (!isAt(course.state, { period, attempt })) return course;
	const { collecting, zone } = course;
	const fell = periodStart(course.phases, zone, period) ?? at;
	const hasNext = attemptAt(fell, attempt + 1, zone, collecting) !== null;
	const hasGrace = lapseDays(collecting) > (collecting.retryDays.at(-1) ?? 0);
	if (!hasNext && !hasGrace) return ended(course, 'unpaid');
	const hasAccess = collecting.isOpenMeanwhile;
	return entered(course, { kind: 'owing', period, attempt: hasNext ? attempt + 1 : null, hasAccess }, at);
}

function refunded(course: Course, charge: Charge, keepsAccess: boolean): Course {
	const { period } = charge;
	// What came in for nothing ends nothing when it goes back.
	if (!isSame(course.paid.get(period), charge)) return course;
	const known = new Map(course.refunded).set(period, charge);
	if (keepsAccess) return { ...course, refunded: known };
	const paid = new Map(course.paid);
	paid.delete(period);
	const next = { ...course, paid, refunded: known };
	// A refund of a period that is over leaves the present one paid.
	const last = Math.max(-1, ...course.paid.keys());
	return period < last || course.state.kind === 'ended' ? next : ended(next, 'refunded');
}

function disputed(course: Course, charge: Charge): Course {
	if (!isSame(course.paid.get(charge.period), charge)) return course;
	const known = new Set(course.disputed).add(nameOf(charge));
	const { state } = course;
	if (state.kind === 'ended') return { ...course, disputed: known };
	return { ...ended(course, 'disputed'), disputed: known, interrupted: state };
}

function won(course: Course, charge: Charge, at: Instant): Course {
	const left = new Set(course.disputed);
	if (!left.delete(nameOf(charge))) return course;
	const next = { ...course, disputed: left };
	const { interrupted } = course;
	if (left.size > 0 || interrupted === null) return next;
	const again = entered({ ...next, interrupted: null }, interrupted, at);
	if ((interrupted.kind === 'renewing' || interrupted.kind === 'owing') && interrupted.attempt !== null) {
		const { period, attempt } = interrupted;
		return { ...again, due: null, charge: { period, attempt } };
	}
	// What ran out meanwhile is looked at at once.
	return again.due && again.due.at <= at ? after(again, { ...again.due.event, at }) : again;
}

function nameOf({ period, attempt }: Charge): string {
	return `${period}:${attempt}`;
}

function isSame(a: Charge | undefined, b: Charge): boolean {
	return a?.period === b.period && a.attempt === b.attempt;
}

function cancelled(course: Course, at: Instant): Course {
	const { state, open } = course;
	if (answerTo(course, { kind: 'cancel' }).kind !== 'possible') return course;
	const { period } = state;
	if (state.kind === 'running' || state.kind === 'first')
		return entered(course, { kind: 'ending', period }, at);
	if (state.kind !== 'resting') return ended(course, 'cancelled');
	const through = throughOf(course, period);
	return through !== null && at < through
		? entered(course, { kind: 'ending', period }, at)
		: { ...ended(course, 'cancelled'), open };
}

/** From now on on other terms, which an order has paid for: what was being asked for is asked for no more. */
function moved(course: Course, turn: Extract<AgreementTurn, { kind: 'moved' }>, at: Instant): Course {
	const { state, paid } = course;
	if (state.kind === 'ended') return course;
	const period = paid.has(state.period) ? state.period + 1 : state.period;
	const phases = withPhase(course.phases, phaseBegun(period, at, course.zone, turn));
	const charge = { period, attempt: 0 };
	return settled({ ...course, phases, paid: new Map(paid).set(period, charge) }, period, at);
}

/** On other terms with the next due. */
function changed(course: Course, turn: Extract<AgreementTurn, { kind: 'changed' }>): Course {
	const { state, phases, zone } = course;
	const from = state.period + 1;
	const start = dueAfter(phases, zone, state.period) && periodStart(phases, zone, from);
	if (state.kind === 'ended' || start === null) return course;
	const present = phaseOf(phases, state.period);
	// What was to come is taken back: dues are counted as before.
	if (present.planId === turn.planId && isSameTerms(present.terms, turn.terms)) {
		const [first, ...others] = phases;
		return { ...course, phases: [first, ...others.filter((one) => one.from < from)] };
	}
	return { ...course, phases: withPhase(phases, phaseBegun(from, start, zone, turn)) };
}

/** What is paid is for a lower plan from now on; where it is not running, all of it counts with the next due. */
function lowered(course: Course, turn: Extract<AgreementTurn, { kind: 'lowered' }>, at: Instant): Course {
	const { state, zone } = course;
	const { planId, access } = turn;
	const next = changed(course, { ...turn, kind: 'changed' });
	const isRunning = state.kind === 'running' || state.kind === 'first';
	const under = isRunning ? underPlan(course.phases, zone, state.period, { planId, access, at }) : null;
	const later = next.phases.find(({ from }) => from > state.period);
	if (!under || !later) return next;
	return entered({ ...next, phases: withPhase(withPhase(course.phases, under), later) }, state, at);
}

/** At another price with the next due. Whoever is to move by then moves. */
function repriced(course: Course, price: Terms): Course {
	if (!mayReprice(course)) return course;
	const { phases, zone, state } = course;
	const next = repricedFrom(phases, zone, state.period + 1, price);
	return next ? { ...course, phases: withPhase(phases, next) } : course;
}

/** Whether another price could count from its next due on. */
export function mayReprice({ state, phases, zone }: Course): boolean {
	const isGoingOn = state.kind === 'running' || state.kind === 'first';
	const isToMove = phases.some((phase) => phase.from > state.period && !phase.isRepriced);
	return isGoingOn && !isToMove && dueAfter(phases, zone, state.period) !== null;
}

function ended(course: Course, why: EndReason): Course {
	const { period } = course.state;
	return {
		...course,
		state: { kind: 'ended', period, why },
		...{ open: null, due: null, charge: null, interrupted: null }
	};
}
