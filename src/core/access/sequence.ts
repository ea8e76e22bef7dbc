/**
 * Laying out a sequence of releases at once: one after the other, from a first day.
 *
 * Example (common practice, no source: a sequence is usually one step a week): "one lesson a week from day 0" gives the
 * first lesson at once, the second after 1 week, the third after 2.
 */
import type { Closes, Steps, Window } from './model';

export interface SequenceAsk {
	/** In their order. */
	ids: readonly string[];
	/** Wait before the first. */
	first: Steps;
	/** Between one and the next; a count of 0 opens all at once. */
	step: Steps;
	closes: Closes;
}

export function sequence({ ids, first, step, closes }: SequenceAsk): Map<string, Window> {
	return new Map(ids.map((id, n) => [id, { opens: nth(first, step, n), closes }]));
}

/** The n-th step from the first; where the units differ, days are counted (a week has 7, a month 30, a year 365). */
function nth(first: Steps, step: Steps, n: number): Window['opens'] {
	if (n === 0 || step.count === 0) return opening(first);
	if (first.count === 0) return { kind: 'after', count: n * step.count, unit: step.unit };
	if (first.unit === step.unit)
		return { kind: 'after', count: first.count + n * step.count, unit: step.unit };
	return { kind: 'after', count: inDays(first) + n * inDays(step), unit: 'day' };
}

function opening(first: Steps): Window['opens'] {
	return first.count === 0 ? { kind: 'at-once' } : { kind: 'after', ...first };
}

const DAYS = { day: 1, week: 7, month: 30, year: 365 } as const;

function inDays({ count, unit }: Steps): number {
	return count * DAYS[unit];
}

/** Moves an opening by whole units of its own; it never becomes earlier than at once. Dates are left. */
export function shifted(window: Window, by: Steps): Window {
	const { opens } = window;
	if (opens.kind === 'on') return window;
	const own: Steps = opens.kind === 'after' ? opens : { count: 0, unit: by.unit };
	const isSame = own.unit === by.unit || own.count === 0;
	const count = isSame ? own.count + by.count : inDays(own) + inDays(by);
	const unit = isSame ? by.unit : 'day';
	return { ...window, opens: count <= 0 ? { kind: 'at-once' } : { kind: 'after', count, unit } };
}
