/**
 * The states of an agreement, and the facts that move it.
 *
 * Stile owns periods and retries; a processor only executes charges. What has become of an agreement is worked out from its
 * facts, see `agreement.ts`. An agreement stands behind everything that is bought: what is paid once is finished as it begins.
 */
import { addCalendar } from '../time/calendar';
import type { Instant } from '../time/instant';
import type { PlanAccess } from './plan-access';
import type { TermsTax } from './tax';
import type { Terms } from './terms';

/** How a payment that is owed is asked for. */
export interface Collecting {
	/** Days after it fell due on which it is tried again, ascending. */
	retryDays: readonly number[];
	/** Days after it fell due until the agreement lapses, where that is later than the last try. */
	graceDays: number;
	/** Whether the member may open things meanwhile. */
	isOpenMeanwhile: boolean;
}

/** Retries after 1, 3 and 5 days: common practice, no source. */
export const USUAL_COLLECTING: Collecting = { retryDays: [1, 3, 5], graceDays: 0, isOpenMeanwhile: true };

/** Of what is paid by hand: nothing is tried again, somebody says that it came in, or did not. */
export const ASKED_ONCE: Collecting = { retryDays: [], graceDays: 0, isOpenMeanwhile: true };

const MOST_RETRIES = 8;
const LAST_RETRY_DAY = 60;

/** Days as somebody typed them, "1, 3, 5": ascending, each once; `null` where they are none. Empty: it is never tried again. */
export function readRetryDays(text: string): number[] | null {
	const typed = text.split(/[\s,;]+/).filter((word) => word !== '');
	if (!typed.every((word) => /^\d{1,3}$/.test(word))) return null;
	const days = [...new Set(typed.map(Number))].sort((a, b) => a - b);
	const [first = 1, last = first] = [days[0], days.at(-1)];
	return first >= 1 && last <= LAST_RETRY_DAY && days.length <= MOST_RETRIES ? days : null;
}

/** A charge: of which period, and which try it was. What an order paid is try 0, but for the first of all, which is try 1;
 * what is paid by hand is a try from `BY_HAND` on. */
export interface Charge {
	period: number;
	attempt: number;
}

/** Payments that a member makes by hand, on a pay page, are tries of numbers from here on: no try by itself has one. */
export const BY_HAND = 1000;

export type LivingState =
	/** In the first stretch, which is of another length. */
	| { kind: 'first'; period: number }
	/** Paid to the end of `period` (counted from 0), and a payment follows. */
	| { kind: 'running'; period: number }
	/** What is due for `period` is asked for, for the first time. */
	| { kind: 'renewing'; period: number; attempt: 1 }
	/** It was declined; `attempt` comes next, `null`: there is no more try, and grace runs. */
	| { kind: 'owing'; period: number; attempt: number | null; hasAccess: boolean }
	/** Cancelled: runs out at the end of `period`, which is paid. */
	| { kind: 'ending'; period: number }
	/** Runs out at the end of `period`, which is paid, and goes on later; `until` null: when somebody says so. */
	| { kind: 'resting'; period: number; until: Instant | null }
	/** Everything is paid. */
	| { kind: 'finished'; period: number };

export type AgreementState = LivingState | { kind: 'ended'; period: number; why: EndReason };

/** `unpaid`: it lapsed. */
export type EndReason = 'cancelled' | 'unpaid' | 'refunded' | 'disputed';

/** What is asked for by it and later is taxed like that; absent: as before. */
export interface TaxedThen {
	tax?: TermsTax | null;
}

/** What somebody wants of it. Each stands at the moment at which it was said. */
export type AgreementCommand =
	| { kind: 'cancel' }
	/** The publisher ends it now, paid or not. */
	| { kind: 'stop' }
	| { kind: 'resume' }
	| { kind: 'rest'; until: Instant | null }
	| ({ kind: 'wake' } & TaxedThen);

/** What a clock or the processor tells: each happens once. */
export type AgreementEvent =
	/** With how what is due then is asked for; absent: as usual. */
	| ({ kind: 'period-over'; period: number; collecting?: Collecting } & TaxedThen)
	| { kind: 'retry-due'; period: number; attempt: number }
	| { kind: 'grace-over'; period: number }
	| ({ kind: 'rest-over'; period: number } & TaxedThen)
	| { kind: 'captured' | 'declined' | 'disputed' | 'won'; period: number; attempt: number }
	| { kind: 'refunded'; period: number; attempt: number; keepsAccess?: true };

/** What was agreed anew. */
export type AgreementTurn =
	/** From this moment on, at once, and paid for by an order. */
	| { kind: 'moved'; planId: string; terms: Terms; access: PlanAccess }
	/** From the next due on. */
	| { kind: 'changed'; planId: string; terms: Terms; access: PlanAccess }
	/** A lower plan from this moment on, for what is paid already, and its price from the next due on. */
	| { kind: 'lowered'; planId: string; terms: Terms; access: PlanAccess }
	/** The publisher asks for something else for the same from the next due on. */
	| { kind: 'repriced'; terms: Terms }
	/** Its member is somebody else for the tax from the next due on. */
	| { kind: 'taxed'; tax: TermsTax | null };

export type AgreementFact = { at: Instant } & (AgreementCommand | AgreementEvent | AgreementTurn);

/** When a due is tried for the `attempt`-th time; `null` after the last. */
export function attemptAt(
	dueAt: Instant,
	attempt: number,
	zone: string,
	{ retryDays }: Collecting = USUAL_COLLECTING
): Instant | null {
	if (attempt <= 1) return dueAt;
	const days = retryDays[attempt - 2];
	return days === undefined ? null : addCalendar(dueAt, days, 'day', zone);
}

/** Days after a due until the agreement lapses. */
export function lapseDays({ retryDays, graceDays }: Collecting): number {
	return Math.max(graceDays, retryDays.at(-1) ?? 0);
}

/** Of what happened at one moment, first what lets it go on, then what was paid and agreed; what ends it last. */
const ORDER: readonly AgreementFact['kind'][] = [
	...(['rest-over', 'wake'] as const),
	...(['captured', 'won', 'moved', 'changed', 'lowered', 'repriced', 'taxed'] as const),
	...(['period-over', 'retry-due', 'declined', 'grace-over', 'resume'] as const),
	...(['refunded', 'disputed', 'rest', 'cancel', 'stop'] as const)
];
const RANK = Object.fromEntries(ORDER.map((kind, n) => [kind, n])) as Record<AgreementFact['kind'], number>;

export function inOrder(a: AgreementFact, b: AgreementFact): number {
	return (
		a.at - b.at ||
		RANK[a.kind] - RANK[b.kind] ||
		numberIn(a, 'period') - numberIn(b, 'period') ||
		numberIn(a, 'attempt') - numberIn(b, 'attempt') ||
		compareText(JSON.stringify(a), JSON.stringify(b))
	);
}

function numberIn(fact: AgreementFact, name: 'period' | 'attempt'): number {
	return name in fact ? Number(fact[name as keyof AgreementFact]) : 0;
}

function compareText(a: string, b: string): number {
	return a < b ? -1 : Number(a > b);
}
