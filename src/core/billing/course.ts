/**
 * What has become of a subscription, from all that is known of it.
 *
 * One rule: what happened counts by the moment at which it happened, and not by when it was heard of. The facts are put in
 * the order of their moments and gone through; so the same facts, heard in any order, end in the same. What was captured
 * before the end counts, what was captured after it goes back; of two captures of one period one stays. Example: while a
 * renewal is under way the member cancels at noon; was the money captured at 11:59, then that period is paid and runs out at
 * its end; at 12:01, then it goes back.
 *
 * A dispute, of whichever period, shuts until it is won. Each change is told as effects: what to do now that was not to be
 * done before; somebody else carries them out.
 */
import type { Instant } from '../time/instant';
import {
	attemptAt,
	paidUntil,
	renewingGrantUntil,
	type EndReason,
	type LivingState,
	type SubscriptionCommand,
	type SubscriptionEvent,
	type SubscriptionFact,
	type SubscriptionState,
	type SubscriptionTerms
} from './subscription';

/** A charge: of which period, and which try it was. */
export interface Charge {
	period: number;
	attempt: number;
}

export interface Course {
	state: SubscriptionState;
	/** Until when it is open; `null`: shut. */
	openUntil: Instant | null;
	/** What is to be done next, and when. */
	due: { event: SubscriptionEvent; at: Instant } | null;
	/** The charge that is to be tried now. */
	charge: Charge | null;
	/** The charge that pays for each period. */
	paid: ReadonlyMap<number, Charge>;
	/** Money that came in for nothing. */
	surplus: readonly Charge[];
	/** Periods whose money somebody gave back, with the charge that it was. */
	refunded: ReadonlyMap<number, Charge>;
	/** Charges that are disputed and not won. */
	disputed: ReadonlySet<string>;
	/** What it goes on with when the dispute is won; `null` where it has ended for good. */
	interrupted: LivingState | null;
}

/** Where the known facts begin: the first period was just paid, or what an older record says. */
export interface Beginning {
	state: SubscriptionState;
	at: Instant;
	/** The charges that pay for periods by then. */
	paid: readonly Charge[];
}

export const joinedAt = (at: Instant): Beginning => ({
	at,
	state: { kind: 'active', period: 0 },
	paid: [{ period: 0, attempt: 1 }]
});

export function courseOf(
	terms: SubscriptionTerms,
	beginning: Beginning,
	facts: readonly SubscriptionFact[]
): Course {
	const start = entered(terms, began(beginning), beginning.state);
	return [...facts].sort(inOrder).reduce((course, fact) => after(terms, course, fact), start);
}

function began({ state, paid }: Beginning): Course {
	return {
		state,
		openUntil: null,
		due: null,
		charge: null,
		paid: new Map(paid.map((charge) => [charge.period, charge])),
		surplus: [],
		refunded: new Map(),
		disputed: new Set(),
		interrupted: null
	};
}

/** Of what happened at one moment, first what was paid; what ends it last. */
const RANK: Record<SubscriptionFact['kind'], number> = {
	captured: 0,
	won: 1,
	'period-over': 2,
	'retry-due': 3,
	declined: 4,
	resume: 5,
	refunded: 6,
	disputed: 7,
	cancel: 8,
	stop: 9
};

function inOrder(a: SubscriptionFact, b: SubscriptionFact): number {
	return (
		a.at - b.at || RANK[a.kind] - RANK[b.kind] || periodOf(a) - periodOf(b) || attemptOf(a) - attemptOf(b)
	);
}

function periodOf(fact: SubscriptionFact): number {
	return 'period' in fact ? fact.period : 0;
}

function attemptOf(fact: SubscriptionFact): number {
	return 'attempt' in fact ? fact.attempt : 0;
}

export type Answer =
	{ kind: 'possible' } | { kind: 'already-so' } | { kind: 'refused'; why: 'has-ended' | 'not-cancelled' };

/** Whether somebody may want that now. */
export function answerTo({ state, interrupted }: Course, { kind }: SubscriptionCommand): Answer {
	switch (kind) {
		case 'cancel':
			if (state.kind === 'ended') return { kind: 'refused', why: 'has-ended' };
			return { kind: state.kind === 'ending' ? 'already-so' : 'possible' };
		case 'stop':
			return { kind: state.kind === 'ended' && interrupted === null ? 'already-so' : 'possible' };
		case 'resume':
			if (state.kind === 'ended') return { kind: 'refused', why: 'has-ended' };
			return state.kind === 'ending' ? { kind: 'possible' } : { kind: 'refused', why: 'not-cancelled' };
	}
}

function after(terms: SubscriptionTerms, course: Course, fact: SubscriptionFact): Course {
	switch (fact.kind) {
		case 'period-over':
			return periodOver(terms, course, fact.period);
		case 'retry-due':
			return retryDue(course, fact);
		case 'captured':
			return captured(terms, course, fact);
		case 'declined':
			return declined(terms, course, fact);
		case 'refunded':
			return refunded(course, fact);
		case 'disputed':
			return disputed(course, fact);
		case 'won':
			return won(terms, course, fact);
		case 'cancel':
			return cancelled(terms, course);
		case 'stop':
			return answerTo(course, fact).kind === 'possible' ? ended(course, 'cancelled') : course;
		case 'resume':
			return course.state.kind === 'ending'
				? entered(terms, course, { kind: 'active', period: course.state.period })
				: course;
	}
}

function periodOver(terms: SubscriptionTerms, course: Course, period: number): Course {
	const { state, openUntil } = course;
	if (state.kind === 'ended' || state.kind === 'renewing' || state.period !== period) return course;
	// What was cancelled runs out by itself at this very moment.
	if (state.kind === 'ending') return { ...ended(course, 'cancelled'), openUntil };
	const next = { period: period + 1, attempt: 1 };
	return { ...entered(terms, course, { kind: 'renewing', ...next }), charge: next };
}

function retryDue(course: Course, { period, attempt }: Charge): Course {
	return isAt(course.state, { period, attempt })
		? { ...course, charge: { period, attempt }, due: null }
		: course;
}

function isAt(state: SubscriptionState, { period, attempt }: Charge): boolean {
	return state.kind === 'renewing' && state.period === period && state.attempt === attempt;
}

function captured(terms: SubscriptionTerms, course: Course, { period, attempt }: Charge): Course {
	const charge = { period, attempt };
	const { state, disputed, interrupted } = course;
	const known = [course.paid.get(period), course.refunded.get(period), ...course.surplus];
	if (known.some((one) => isSame(one, charge))) return course;
	const isFirst = !course.paid.has(period) && !course.refunded.has(period);
	// While a dispute is open nothing is decided: what was under way counts.
	const isOpen = state.kind !== 'ended' || (disputed.size > 0 && interrupted !== null);
	if (!isFirst || !isOpen) return { ...course, surplus: [...course.surplus, charge] };
	const paid = new Map(course.paid).set(period, charge);
	const living = state.kind === 'ended' ? interrupted : state;
	const next: LivingState | null = living && period >= living.period ? { kind: 'active', period } : living;
	if (next === null) return { ...course, paid };
	if (state.kind === 'ended') return { ...course, paid, interrupted: next };
	return entered(terms, { ...course, paid }, next);
}

function declined(terms: SubscriptionTerms, course: Course, { period, attempt }: Charge): Course {
	if (!isAt(course.state, { period, attempt })) return course;
	return attemptAt(terms, period, attempt + 1) === null
		? ended(course, 'unpaid')
		: entered(terms, course, { kind: 'renewing', period, attempt: attempt + 1 });
}

function refunded(course: Course, charge: Charge): Course {
	const { period } = charge;
	// What came in for nothing ends nothing when it goes back.
	if (!isPaying(course, charge)) return course;
	const paid = new Map(course.paid);
	paid.delete(period);
	const next = {
		...course,
		paid,
		refunded: new Map(course.refunded).set(period, { period, attempt: charge.attempt })
	};
	// A refund of a period that is over leaves the present one paid.
	const last = Math.max(-1, ...course.paid.keys());
	return period < last || course.state.kind === 'ended' ? next : ended(next, 'refunded');
}

function isPaying(course: Course, { period, attempt }: Charge): boolean {
	return course.paid.get(period)?.attempt === attempt;
}

function disputed(course: Course, charge: Charge): Course {
	if (!isPaying(course, charge)) return course;
	const known = new Set(course.disputed).add(nameOf(charge));
	const { state } = course;
	if (state.kind === 'ended') return { ...course, disputed: known };
	return { ...ended(course, 'disputed'), disputed: known, interrupted: state };
}

function won(terms: SubscriptionTerms, course: Course, charge: Charge & { at: Instant }): Course {
	const left = new Set(course.disputed);
	if (!left.delete(nameOf(charge))) return course;
	const next = { ...course, disputed: left };
	const { interrupted } = course;
	if (left.size > 0 || interrupted === null) return next;
	const again = entered(terms, { ...next, interrupted: null }, interrupted);
	if (interrupted.kind === 'renewing')
		return { ...again, due: null, charge: { period: interrupted.period, attempt: interrupted.attempt } };
	// What ran out meanwhile is looked at at once.
	return (again.due?.at ?? Infinity) <= charge.at ? periodOver(terms, again, interrupted.period) : again;
}

function nameOf({ period, attempt }: Charge): string {
	return `${period}:${attempt}`;
}

function cancelled(terms: SubscriptionTerms, course: Course): Course {
	const { state } = course;
	if (state.kind === 'active') return entered(terms, course, { kind: 'ending', period: state.period });
	// Nothing is paid any more, so there is nothing to run out.
	return state.kind === 'renewing' ? ended(course, 'cancelled') : course;
}

function ended(course: Course, why: EndReason): Course {
	const { period } = course.state;
	return {
		...course,
		state: { kind: 'ended', period, why },
		openUntil: null,
		due: null,
		charge: null,
		interrupted: null
	};
}

/** A state with what follows from it: until when it is open, and what is due next. */
function entered(terms: SubscriptionTerms, course: Course, state: SubscriptionState): Course {
	const own = { ...course, state, due: null, charge: null };
	switch (state.kind) {
		case 'active':
		case 'ending': {
			const { period } = state;
			const at = paidUntil(terms, period);
			return {
				...own,
				openUntil: state.kind === 'active' ? renewingGrantUntil(terms, period) : at,
				due: { event: { kind: 'period-over', period }, at }
			};
		}
		case 'renewing': {
			const { period, attempt } = state;
			const at = attemptAt(terms, period, attempt);
			return {
				...own,
				openUntil: renewingGrantUntil(terms, period - 1),
				due: at === null || attempt === 1 ? null : { event: { kind: 'retry-due', period, attempt }, at }
			};
		}
		case 'ended':
			return own;
	}
}

export type Effect =
	| ({ kind: 'charge' } & Charge)
	| { kind: 'schedule'; event: SubscriptionEvent; at: Instant }
	/** Open until then: a grant that is in force gets that end; where it was shut, it opens anew. */
	| { kind: 'open-until'; until: Instant; wasShut: boolean }
	| { kind: 'shut' }
	| ({ kind: 'give-back' } & Charge)
	| { kind: 'tell'; message: Message };

export type Message = 'renewed' | 'payment-declined' | 'lapsed' | 'cancelled' | 'resumed';

/** What is to be done that was not to be done before. */
export function effectsOf(before: Course | null, after: Course): Effect[] {
	const effects: Effect[] = [];
	const wasUntil = before?.openUntil ?? null;
	if (after.openUntil === null) {
		if (wasUntil !== null) effects.push({ kind: 'shut' });
	} else if (after.openUntil !== wasUntil)
		effects.push({
			kind: 'open-until',
			until: after.openUntil,
			wasShut: before !== null && wasUntil === null
		});
	if (after.charge && !isSame(before?.charge, after.charge))
		effects.push({ kind: 'charge', ...after.charge });
	if (after.due && !isSame(before?.due, after.due)) effects.push({ kind: 'schedule', ...after.due });
	for (const charge of after.surplus)
		if (!before?.surplus.some((one) => isSame(one, charge))) effects.push({ kind: 'give-back', ...charge });
	const message = before && messageOf(before, after);
	if (message) effects.push({ kind: 'tell', message });
	return effects;
}

function isSame(a: unknown, b: unknown): boolean {
	return JSON.stringify(a) === JSON.stringify(b);
}

function messageOf({ state: was }: Course, { state, openUntil }: Course): Message | null {
	if (isSame(was, state)) return null;
	switch (state.kind) {
		case 'active':
			if (was.kind === 'ending') return 'resumed';
			return was.kind === 'renewing' || state.period > was.period ? 'renewed' : null;
		case 'renewing':
			return state.attempt > 1 ? 'payment-declined' : null;
		case 'ending':
			return 'cancelled';
		case 'ended':
			if (state.why === 'unpaid') return 'lapsed';
			// What was cancelled before has been said to end.
			return state.why === 'cancelled' && (was.kind !== 'ending' || openUntil === null) ? 'cancelled' : null;
	}
}
