/** What an agreement is at a moment of its course, and what follows from the state that it enters. */
import { addCalendar } from '../time/calendar';
import type { Instant } from '../time/instant';
import {
	attemptAt,
	lapseDays,
	type AgreementEvent,
	type AgreementState,
	type Charge,
	type Collecting,
	type LivingState
} from './agreement-facts';
import {
	dueAfter,
	LEEWAY_DAYS,
	openWithLeeway,
	paidThrough,
	periodStart,
	phaseOf,
	sooner,
	type Phase,
	type Phases
} from './phases';

/** A span in which it is open. */
export interface Open {
	from: Instant;
	/** `null`: for good. */
	until: Instant | null;
	planId: string;
}

export interface Course {
	state: AgreementState;
	zone: string;
	phases: Phases;
	/** `null`: shut. */
	open: Open | null;
	/** What is to be done next, and when. */
	due: { event: AgreementEvent; at: Instant } | null;
	/** The charge that is to be tried now. */
	charge: Charge | null;
	/** How what is owed now is asked for. */
	collecting: Collecting;
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

export function throughOf({ phases, zone }: Course, period: number): Instant | null {
	return paidThrough(phases, zone, period);
}

/** As money came in for a period: where it was all, it is finished. */
export function settled(course: Course, period: number, at: Instant): Course {
	return entered(course, paidState(course, period), at);
}

export function paidState({ phases, zone }: Course, period: number): LivingState {
	if (dueAfter(phases, zone, period) === null) return { kind: 'finished', period };
	const { from, terms } = phaseOf(phases, period);
	const isFirst = period === from && terms.then.kind === 'more' && terms.then.firstLasts !== null;
	return { kind: isFirst ? 'first' : 'running', period };
}

/** A state with what follows from it: until when it is open, and what is due next. */
export function entered(course: Course, state: LivingState | AgreementState, at: Instant): Course {
	const own = { ...course, state, due: null, charge: null };
	if (state.kind === 'ended') return own;
	return { ...own, due: dueIn(own, state), open: openIn(own, state, at) };
}

function dueIn(course: Course, state: LivingState): Course['due'] {
	const { phases, zone, collecting } = course;
	const { period } = state;
	const through = throughOf(course, period);
	switch (state.kind) {
		case 'first':
		case 'running':
		case 'ending':
			return through === null ? null : { event: { kind: 'period-over', period }, at: through };
		case 'resting': {
			if (state.until === null || through === null) return null;
			return { event: { kind: 'rest-over', period }, at: Math.max(state.until, through) };
		}
		case 'owing': {
			const fell = periodStart(phases, zone, period);
			if (fell === null) return null;
			const { attempt } = state;
			if (attempt === null) {
				const lapses = addCalendar(fell, lapseDays(collecting), 'day', zone);
				return { event: { kind: 'grace-over', period }, at: lapses };
			}
			const next = attemptAt(fell, attempt, zone, collecting);
			return next === null ? null : { event: { kind: 'retry-due', period, attempt }, at: next };
		}
		case 'renewing':
		case 'finished':
			return null;
	}
}

function openIn(course: Course, state: LivingState, at: Instant): Open | null {
	const { phases, zone, open } = course;
	const { period } = state;
	switch (state.kind) {
		case 'first':
		case 'running':
			return opened(course, openWithLeeway(phases, zone, period), phaseOf(phases, period), at);
		case 'ending':
		case 'resting':
			return opened(course, throughOf(course, period), phaseOf(phases, period), at);
		case 'renewing':
		case 'owing': {
			if (state.kind === 'owing' && !state.hasAccess) return null;
			const { hasLeeway } = phaseOf(phases, period);
			if (!hasLeeway) return open;
			return opened(course, openWhileAsked(course, state), phaseOf(phases, period - 1), at);
		}
		case 'finished': {
			const phase = phaseOf(phases, period);
			const isByEnd = phase.isForGood || phase.end !== null || phase.terms.then.kind === 'nothing';
			return opened(course, isByEnd ? phase.end : throughOf(course, period), phase, at);
		}
	}
}

/** Days beyond the last look at a debt for which it stays open, so that no late clock shuts it. */
const SLACK_DAYS = 2;

function openWhileAsked({ phases, zone, collecting }: Course, state: LivingState): Instant | null {
	const { period } = state;
	const fell = periodStart(phases, zone, period);
	if (fell === null) return null;
	const days = state.kind === 'owing' ? lapseDays(collecting) + SLACK_DAYS : 0;
	return addCalendar(fell, Math.max(LEEWAY_DAYS, days), 'day', zone);
}

/**
 * Open until then. What was open goes on; what was shut by then opens anew, and so does another plan. Nothing opens before the
 * first day that was agreed.
 */
function opened(
	{ open, phases }: Course,
	through: Instant | null,
	{ end, planId }: Phase,
	at: Instant
): Open | null {
	const until = sooner(through, end);
	const goesOn = open?.planId === planId && (open.until === null || open.until >= at);
	// What was open was open, whatever was agreed since.
	if (goesOn) return { ...open, until: until && Math.max(until, at) };
	const from = Math.max(at, phases[0].start);
	return until !== null && until <= from ? open : { from, until, planId };
}
