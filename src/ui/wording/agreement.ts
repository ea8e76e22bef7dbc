/** What has become of a purchase, as the Desk says it. */
import type { Foreseen, Step } from '$core/billing/agreement-foreseen';
import type { AgreementState } from '$core/billing/agreement-facts';
import type { ProcessorName } from '$core/billing/pay-by';
import { formatMoney } from '$core/billing/money';
import type { Instant } from '$core/time/instant';
import { formatDay } from './time';

interface Agreement {
	state: AgreementState['kind'];
	/** The try that comes next; 0: none. */
	attempt: number;
	nextAt: Instant | null;
	paidThrough: Instant | null;
	processor: ProcessorName;
}

export function agreementWords(
	{ state, attempt, nextAt, paidThrough, processor }: Agreement,
	zone: string
): string {
	const next = nextAt === null ? null : formatDay(nextAt, zone);
	const until = paidThrough === null ? null : formatDay(paidThrough, zone);
	switch (state) {
		case 'first':
			return next ? `in its first stretch, then charged on ${next}` : 'in its first stretch';
		case 'running':
			return next ? `next payment ${next}` : 'goes on';
		case 'renewing':
			return processor === 'card' ? 'being charged' : 'asked for the next payment';
		case 'owing':
			return attempt === 0
				? 'declined, not tried again'
				: `declined ${timesWords(attempt - 1)}${next ? `; next try ${next}` : ''}`;
		case 'ending':
			return until ? `cancelled, open until ${until}` : 'cancelled';
		case 'resting':
			return `rests${until ? ` from ${until} on` : ''}${next ? `, goes on ${next}` : ''}`;
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

/** What a step would make of an agreement, in sentences. */
export function foreseenWords(
	{ step, state, open, next }: Foreseen,
	of: { plan: string; member: string; opens: number; currency: string; zone: string }
): string {
	const { plan, member, opens, currency, zone } = of;
	const items = opens === 1 ? '1 item' : `${opens} items`;
	const amount = next && formatMoney({ minor: next.amountMinor, currency });
	const payment = next && `The next payment is ${amount} on ${formatDay(next.at, zone)}.`;
	switch (state.kind) {
		case 'ended':
			return `${plan} is shut for ${member} from now on, and with it ${items}. Nothing more is charged, and nothing is paid back.`;
		case 'ending':
		case 'resting': {
			const until = open?.until
				? `stays open for ${member} until ${formatDay(open.until, zone)}, and with it ${items}`
				: `is shut for ${member}`;
			const after =
				step === 'cancel'
					? 'Nothing more is charged, and nothing is paid back.'
					: (payment ?? 'Nothing is charged until somebody lets it go on.');
			return `${plan} ${until}. ${after}`;
		}
		case 'renewing':
			return `${amount ?? 'What is due'} is charged to the card now, and with it ${plan} opens for ${member}: ${items}.`;
		default:
			return `${plan} goes on for ${member} as if nothing had been. ${payment ?? 'Nothing more is charged.'}`;
	}
}
