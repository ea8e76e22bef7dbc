/** What somebody may want of an agreement now, and what is shown of it. */
import type { Instant } from '../time/instant';
import { throughOf, type Course } from './agreement-course';
import type { AgreementCommand } from './agreement-facts';
import { amountAsked, paidThrough, periodStart, phaseOf } from './phases';
import { restOf } from './proration';

export type Answer = { kind: 'possible' } | { kind: 'already-so' } | { kind: 'refused'; why: Refusal };
/** `instalments`: they are owed, and do not end or rest before the last. `too-soon`: it would be back before it rests. */
export type Refusal =
	'has-ended' | 'all-paid' | 'instalments' | 'not-cancelled' | 'not-running' | 'not-resting' | 'too-soon';

const POSSIBLE: Answer = { kind: 'possible' };
const refused = (why: Refusal): Answer => ({ kind: 'refused', why });

/** Whether somebody may want that now. */
export function answerTo(course: Course, command: AgreementCommand): Answer {
	const { state, interrupted } = course;
	if (command.kind === 'stop')
		return state.kind === 'ended' && interrupted === null ? { kind: 'already-so' } : POSSIBLE;
	if (state.kind === 'ended') return refused('has-ended');
	switch (command.kind) {
		case 'cancel':
			if (state.kind === 'finished') return refused('all-paid');
			if (isInstalments(course)) return refused('instalments');
			return state.kind === 'ending' ? { kind: 'already-so' } : POSSIBLE;
		case 'resume':
			return state.kind === 'ending' ? POSSIBLE : refused('not-cancelled');
		case 'rest':
			if (state.kind === 'resting') return { kind: 'already-so' };
			if (isInstalments(course)) return refused('instalments');
			if (state.kind !== 'running') return refused('not-running');
			return command.until !== null && command.until <= (throughOf(course, state.period) ?? 0)
				? refused('too-soon')
				: POSSIBLE;
		case 'wake':
			return state.kind === 'resting' ? POSSIBLE : refused('not-resting');
	}
}

function isInstalments({ phases, state }: Course): boolean {
	const { then } = phaseOf(phases, state.period).terms;
	return then.kind === 'more' && then.times !== null;
}

/** What is shown of an agreement: the end of what is paid, and what is asked for next, in minor units. */
export interface Outlook {
	/** `null`: it has no end. */
	paidThrough: Instant | null;
	next: { at: Instant; amountMinor: number } | null;
}

export function outlookOf(course: Course): Outlook {
	const { state, phases, zone, due } = course;
	const { period } = state;
	const isAsking = state.kind === 'renewing' || state.kind === 'owing';
	const asked = isAsking ? period : period + 1;
	const amountMinor = amountAsked(phases, asked);
	const at = state.kind === 'renewing' ? periodStart(phases, zone, period) : (due?.at ?? null);
	const isEnding = state.kind === 'ending' || (state.kind === 'owing' && state.attempt === null);
	const last = course.paid.has(period) ? period : period - 1;
	return {
		paidThrough: throughOf(course, isAsking || state.kind === 'ended' ? last : period),
		next: at === null || amountMinor === null || isEnding ? null : { at, amountMinor }
	};
}

/** What is owed and may be paid by hand, in minor units; `null`: nothing. */
export function owedNow({
	state,
	phases
}: Course): { period: number; amountMinor: number; currency: string } | null {
	if (state.kind !== 'owing') return null;
	const amountMinor = amountAsked(phases, state.period);
	const { currency } = phaseOf(phases, state.period).terms;
	return amountMinor === null ? null : { period: state.period, amountMinor, currency };
}

/** What the time is worth that a payment has paid for and that is still to come, in minor units. */
export function unusedOf(
	{ phases, zone }: Course,
	{ period, amountMinor }: { period: number; amountMinor: number },
	at: Instant
): number {
	const [from, through] = [periodStart(phases, zone, period), paidThrough(phases, zone, period)];
	// What was paid once has no time.
	return from === null || through === null ? 0 : restOf(amountMinor, from, through, at).worthMinor;
}
