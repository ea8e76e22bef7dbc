/**
 * A subscription's life, as a table of transitions.
 *
 * Stile owns periods and retries; the processor only executes charges. Each transition returns the next state and its
 * effects as data, and somebody else carries them out. Example: the period of an active subscription runs out, the charge
 * is declined, declined again on days 1, 3 and 5, and then the subscription ends and its grant with it.
 */
import { addCalendar, type CalendarUnit } from '../time/calendar';
import type { Instant } from '../time/instant';

/** Days after the end of the paid period on which a declined charge is tried again. Common practice, no source. */
export const RETRY_DAYS = [1, 3, 5] as const;

/** Days that a renewing grant outlives the paid period, so that no renewal or retry cuts a playing member. */
export const LEEWAY_DAYS = 7;

export interface SubscriptionTerms {
	/** Start of the first period; every later one is computed from it. */
	anchor: Instant;
	unit: Extract<CalendarUnit, 'month' | 'year'>;
	count: number;
	/** The publisher's zone. */
	zone: string;
}

export type SubscriptionState =
	/** Paid to the end of `period` (counted from 0), and renews. */
	| { kind: 'active'; period: number }
	/** The charge for `period` (not yet paid) is at its `attempt` (counted from 1). */
	| { kind: 'renewing'; period: number; attempt: number }
	/** Cancelled: runs out at the end of `period`, which is paid. */
	| { kind: 'ending'; period: number }
	| { kind: 'ended'; period: number; why: EndReason };

export type EndReason = 'cancelled' | 'unpaid' | 'refunded' | 'disputed';

export interface Subscription {
	terms: SubscriptionTerms;
	state: SubscriptionState;
}

export type SubscriptionEvent =
	| { kind: 'period-over'; period: number }
	| { kind: 'retry-due'; period: number; attempt: number }
	| { kind: 'captured'; period: number }
	| { kind: 'declined'; period: number; attempt: number }
	| { kind: 'cancel' }
	/** The publisher ends it now, paid or not. */
	| { kind: 'stop' }
	| { kind: 'resume' }
	| { kind: 'refunded'; period: number }
	| { kind: 'disputed'; period: number };

export type Effect =
	| { kind: 'charge'; period: number; attempt: number }
	| { kind: 'schedule'; event: SubscriptionEvent; at: Instant }
	/** The grant's new end. */
	| { kind: 'grant-until'; until: Instant }
	/** Revoke the grant now. */
	| { kind: 'end-grant' }
	/** Money came in for nothing: give it back. */
	| { kind: 'give-back'; period: number }
	| { kind: 'tell'; message: 'renewed' | 'payment-declined' | 'lapsed' | 'cancelled' | 'resumed' };

export type Transition =
	| { kind: 'moved'; state: SubscriptionState; effects: Effect[] }
	| { kind: 'ignored'; why: 'already-so' | 'other-period' | 'has-ended' }
	| { kind: 'refused'; why: 'has-ended' | 'not-cancelled' };

/** The first instant after period `period`: what is paid when that period is paid. */
export function paidUntil(terms: SubscriptionTerms, period: number): Instant {
	return addCalendar(terms.anchor, (period + 1) * terms.count, terms.unit, terms.zone);
}

/** The end that a renewing grant gets: paid-until plus leeway. */
export function renewingGrantUntil(terms: SubscriptionTerms, period: number): Instant {
	return addCalendar(paidUntil(terms, period), LEEWAY_DAYS, 'day', terms.zone);
}

/** A subscription whose first period was just paid, and what has to happen. */
export function begin(terms: SubscriptionTerms): { state: SubscriptionState; effects: Effect[] } {
	return { state: { kind: 'active', period: 0 }, effects: paidThrough(terms, 0) };
}

export function transition({ terms, state }: Subscription, event: SubscriptionEvent): Transition {
	switch (event.kind) {
		case 'period-over':
			return periodOver(state, event.period);
		case 'retry-due':
			return retryDue(state, event);
		case 'captured':
			return captured(terms, state, event.period);
		case 'declined':
			return declined(terms, state, event);
		case 'cancel':
			return cancel(terms, state);
		case 'stop':
			return stop(state);
		case 'resume':
			return resume(terms, state);
		case 'refunded':
		case 'disputed':
			return takenBack(state, event);
	}
}

function periodOver(state: SubscriptionState, period: number): Transition {
	if (state.kind === 'ended') return { kind: 'ignored', why: 'has-ended' };
	if (state.period !== period || state.kind === 'renewing') return { kind: 'ignored', why: 'other-period' };
	if (state.kind === 'ending') {
		// The grant's own end, set when it was cancelled, is this very moment.
		return { kind: 'moved', state: { kind: 'ended', period, why: 'cancelled' }, effects: [] };
	}
	const next = { period: period + 1, attempt: 1 };
	return { kind: 'moved', state: { kind: 'renewing', ...next }, effects: [{ kind: 'charge', ...next }] };
}

function retryDue(
	state: SubscriptionState,
	{ period, attempt }: { period: number; attempt: number }
): Transition {
	if (state.kind === 'ended') return { kind: 'ignored', why: 'has-ended' };
	if (state.kind !== 'renewing' || state.period !== period || state.attempt !== attempt) {
		return { kind: 'ignored', why: 'other-period' };
	}
	return { kind: 'moved', state, effects: [{ kind: 'charge', period, attempt }] };
}

function captured(terms: SubscriptionTerms, state: SubscriptionState, period: number): Transition {
	if (state.kind === 'ended') {
		if (period <= state.period && state.why !== 'unpaid') return { kind: 'ignored', why: 'already-so' };
		return { kind: 'moved', state, effects: [{ kind: 'give-back', period }] };
	}
	if (state.kind !== 'renewing') return { kind: 'ignored', why: 'already-so' };
	if (state.period !== period) return { kind: 'ignored', why: 'other-period' };
	return {
		kind: 'moved',
		state: { kind: 'active', period },
		effects: [...paidThrough(terms, period), { kind: 'tell', message: 'renewed' }]
	};
}

function declined(
	terms: SubscriptionTerms,
	state: SubscriptionState,
	{ period, attempt }: { period: number; attempt: number }
): Transition {
	if (state.kind === 'ended') return { kind: 'ignored', why: 'has-ended' };
	if (state.kind !== 'renewing' || state.period !== period || state.attempt !== attempt) {
		return { kind: 'ignored', why: 'other-period' };
	}
	const waitDays = RETRY_DAYS[attempt - 1];
	if (waitDays === undefined) {
		return {
			kind: 'moved',
			state: { kind: 'ended', period, why: 'unpaid' },
			effects: [{ kind: 'end-grant' }, { kind: 'tell', message: 'lapsed' }]
		};
	}
	const next = { period, attempt: attempt + 1 };
	const at = addCalendar(paidUntil(terms, period - 1), waitDays, 'day', terms.zone);
	return {
		kind: 'moved',
		state: { kind: 'renewing', ...next },
		effects: [
			{ kind: 'schedule', event: { kind: 'retry-due', ...next }, at },
			{ kind: 'tell', message: 'payment-declined' }
		]
	};
}

function cancel(terms: SubscriptionTerms, state: SubscriptionState): Transition {
	if (state.kind === 'ended') return { kind: 'refused', why: 'has-ended' };
	if (state.kind === 'ending') return { kind: 'ignored', why: 'already-so' };
	if (state.kind === 'renewing') {
		// Nothing is paid any more, so there is nothing to run out.
		return {
			kind: 'moved',
			state: { kind: 'ended', period: state.period, why: 'cancelled' },
			effects: [{ kind: 'end-grant' }, { kind: 'tell', message: 'cancelled' }]
		};
	}
	return {
		kind: 'moved',
		state: { kind: 'ending', period: state.period },
		effects: [
			{ kind: 'grant-until', until: paidUntil(terms, state.period) },
			{ kind: 'tell', message: 'cancelled' }
		]
	};
}

function stop(state: SubscriptionState): Transition {
	if (state.kind === 'ended') return { kind: 'ignored', why: 'has-ended' };
	return {
		kind: 'moved',
		state: { kind: 'ended', period: state.period, why: 'cancelled' },
		effects: [{ kind: 'end-grant' }, { kind: 'tell', message: 'cancelled' }]
	};
}

function resume(terms: SubscriptionTerms, state: SubscriptionState): Transition {
	if (state.kind === 'ended') return { kind: 'refused', why: 'has-ended' };
	if (state.kind !== 'ending') return { kind: 'refused', why: 'not-cancelled' };
	return {
		kind: 'moved',
		state: { kind: 'active', period: state.period },
		effects: [
			{ kind: 'grant-until', until: renewingGrantUntil(terms, state.period) },
			{ kind: 'tell', message: 'resumed' }
		]
	};
}

function takenBack(
	state: SubscriptionState,
	event: { kind: 'refunded' | 'disputed'; period: number }
): Transition {
	if (state.kind === 'ended') return { kind: 'ignored', why: 'has-ended' };
	// A refunded charge of a period that is over leaves the present one paid.
	const paidPeriod = state.kind === 'renewing' ? state.period - 1 : state.period;
	if (event.kind === 'refunded' && event.period < paidPeriod) return { kind: 'ignored', why: 'other-period' };
	return {
		kind: 'moved',
		state: { kind: 'ended', period: state.period, why: event.kind },
		effects: [{ kind: 'end-grant' }]
	};
}

function paidThrough(terms: SubscriptionTerms, period: number): Effect[] {
	return [
		{ kind: 'grant-until', until: renewingGrantUntil(terms, period) },
		{ kind: 'schedule', event: { kind: 'period-over', period }, at: paidUntil(terms, period) }
	];
}
