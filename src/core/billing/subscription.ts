/**
 * A subscription's terms, states and the facts that move it.
 *
 * Stile owns periods and retries; the processor only executes charges. What has become of a subscription is worked out
 * from its facts, see `course.ts`.
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

export type LivingState =
	/** Paid to the end of `period` (counted from 0), and renews. */
	| { kind: 'active'; period: number }
	/** The charge for `period` (not yet paid) is at its `attempt` (counted from 1). */
	| { kind: 'renewing'; period: number; attempt: number }
	/** Cancelled: runs out at the end of `period`, which is paid. */
	| { kind: 'ending'; period: number };

export type SubscriptionState = LivingState | { kind: 'ended'; period: number; why: EndReason };

export type EndReason = 'cancelled' | 'unpaid' | 'refunded' | 'disputed';

/** What somebody wants of it. Each stands at the moment at which it was said. */
export type SubscriptionCommand =
	| { kind: 'cancel' }
	/** The publisher ends it now, paid or not. */
	| { kind: 'stop' }
	| { kind: 'resume' };

/** What a clock or the processor tells: each happens once. */
export type SubscriptionEvent =
	| { kind: 'period-over'; period: number }
	| { kind: 'retry-due'; period: number; attempt: number }
	| { kind: 'captured' | 'declined' | 'refunded' | 'disputed' | 'won'; period: number; attempt: number };

export type SubscriptionFact = { at: Instant } & (SubscriptionCommand | SubscriptionEvent);

/** The first instant after period `period`: what is paid when that period is paid. */
export function paidUntil(terms: SubscriptionTerms, period: number): Instant {
	return addCalendar(terms.anchor, (period + 1) * terms.count, terms.unit, terms.zone);
}

/** The end that a renewing grant gets: paid-until plus leeway. */
export function renewingGrantUntil(terms: SubscriptionTerms, period: number): Instant {
	return addCalendar(paidUntil(terms, period), LEEWAY_DAYS, 'day', terms.zone);
}

/** When the charge for a period is tried for the `attempt`-th time; `null` after the last. */
export function attemptAt(terms: SubscriptionTerms, period: number, attempt: number): Instant | null {
	const due = paidUntil(terms, period - 1);
	if (attempt <= 1) return due;
	const days = RETRY_DAYS[attempt - 2];
	return days === undefined ? null : addCalendar(due, days, 'day', terms.zone);
}

/** What of a price is not used up yet at a moment of the period that it paid for, in minor units, rounded down. */
export function worthOfRest(
	terms: SubscriptionTerms,
	period: number,
	amountMinor: number,
	at: Instant
): number {
	const [start, end] = [paidUntil(terms, period - 1), paidUntil(terms, period)];
	const left = Math.min(1, Math.max(0, (end - at) / (end - start)));
	return Math.floor(amountMinor * left);
}
