import type { TellHow, TellKind } from '$core/staff/telling';

/** What staff can be mailed of, by kind. */
export const TELL_WORDS: Record<TellKind, { label: string; detail: string }> = {
	joined: {
		label: 'Who joins',
		detail: 'Bought, given by a colleague, by a code, or a cancellation taken back.'
	},
	left: { label: 'Who leaves', detail: 'Cancelled, declined, ran out, paid back or deleted.' },
	wrong: {
		label: 'What goes wrong',
		detail: 'Disputes, and work that failed and is not tried again by itself.'
	}
};

export const HOW_WORDS: Record<TellHow, string> = {
	'at-once': 'At once',
	daily: 'Once a day',
	never: 'Never'
};
