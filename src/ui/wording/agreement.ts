/** What has become of a purchase, as the Desk says it. */
import type { Step } from '$core/billing/agreement-foreseen';
import type { AgreementState } from '$core/billing/agreement-facts';
import type { Instant } from '$core/time/instant';
import { formatDay } from './time';

interface Agreement {
	state: AgreementState['kind'];
	/** The try that comes next; 0: none. */
	attempt: number;
	nextAt: Instant | null;
	paidThrough: Instant | null;
}

export function agreementWords({ state, attempt, nextAt, paidThrough }: Agreement, zone: string): string {
	const next = nextAt === null ? null : formatDay(nextAt, zone);
	const until = paidThrough === null ? null : formatDay(paidThrough, zone);
	switch (state) {
		case 'first':
			return next ? `in its first stretch, then charged on ${next}` : 'in its first stretch';
		case 'running':
			return next ? `next payment ${next}` : 'goes on';
		case 'renewing':
			return 'being charged';
		case 'owing':
			return attempt === 0
				? 'declined, not tried again'
				: `declined ${timesWords(attempt - 1)}${next ? `; next try ${next}` : ''}`;
		case 'ending':
			return until ? `cancelled, open until ${until}` : 'cancelled';
		case 'resting':
			return until ? `rests from ${until} on` : 'rests';
		case 'finished':
			return 'all paid';
		case 'ended':
			return 'ended';
	}
}

function timesWords(count: number): string {
	if (count === 1) return 'once';
	return count === 2 ? 'twice' : `${count} times`;
}

export const STEP_WORDS: Record<Step, string> = {
	cancel: 'Cancel at the end of what is paid',
	resume: 'Take the cancellation back',
	rest: 'Pause until further notice',
	'rest-1': 'Pause for a month',
	'rest-2': 'Pause for 2 months',
	'rest-3': 'Pause for 3 months',
	'rest-6': 'Pause for 6 months',
	wake: 'Go on now',
	stop: 'End it now'
};
