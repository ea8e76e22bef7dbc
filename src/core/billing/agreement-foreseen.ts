/**
 * What would become of an agreement if somebody wanted something of it now: shown before it is done.
 *
 * A step is a command as people choose it, such as a pause of so many months from the end of what is paid on.
 */
import { addCalendar } from '../time/calendar';
import type { Instant } from '../time/instant';
import { courseOf, type Beginning, type Origin } from './agreement';
import { answerTo, outlookOf, type Outlook } from './agreement-answers';
import { throughOf, type Course } from './agreement-course';
import type { AgreementCommand, AgreementFact, AgreementState } from './agreement-facts';

/** `rest` is a pause without an end. */
export const STEPS = [
	'cancel',
	'resume',
	'rest',
	'rest-1',
	'rest-2',
	'rest-3',
	'rest-6',
	'wake',
	'stop'
] as const;
export type Step = (typeof STEPS)[number];

export function isStep(text: string): text is Step {
	return (STEPS as readonly string[]).includes(text);
}

/** Months of a pause; `null`: it is no pause, or has no end. */
export function monthsOf(step: Step): number | null {
	const months = /^rest-(\d+)$/.exec(step)?.[1];
	return months === undefined ? null : Number(months);
}

export function commandOf(step: Step, course: Course): AgreementCommand {
	switch (step) {
		case 'cancel':
		case 'resume':
		case 'wake':
		case 'stop':
			return { kind: step };
		default: {
			const months = monthsOf(step);
			const from = throughOf(course, course.state.period);
			const until = months === null || from === null ? null : addCalendar(from, months, 'month', course.zone);
			return { kind: 'rest', until };
		}
	}
}

export interface Foreseen extends Outlook {
	step: Step;
	state: AgreementState;
	/** `null`: it would be shut; `until` null: open for good. */
	open: { until: Instant | null } | null;
}

/** Every step that is possible now, with what it would make of it. */
export function stepsFrom(
	origin: Origin,
	beginning: Beginning,
	facts: readonly AgreementFact[],
	at: Instant
): Foreseen[] {
	const course = courseOf(origin, beginning, facts);
	return STEPS.flatMap((step) => {
		const command = commandOf(step, course);
		if (answerTo(course, command).kind !== 'possible') return [];
		const after = courseOf(origin, beginning, [...facts, { ...command, at }]);
		const { state, open } = after;
		const isOpen = open !== null && (open.until === null || open.until > at);
		return [{ step, state, open: isOpen ? { until: open.until } : null, ...outlookOf(after) }];
	});
}
