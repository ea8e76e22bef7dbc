import { CANCEL_WORDS } from './payment';

/** What happened, in words, for the Desk's lists. `after` is what the audit kept. */
const WORDS: Record<string, string> = {
	granted: 'joined',
	'subscription-cancel': 'cancelled',
	'subscription-rest': 'paused',
	'subscription-wake': 'took a pause back',
	'subscription-stop': 'was ended by you',
	'subscription-resume': 'took a cancellation back',
	'subscription-declined': 'had a card declined',
	'payment-refunded': 'got a payment back',
	'payment-credited': 'got money back',
	'payment-disputed': 'disputed a payment',
	'payment-won': 'lost a dispute: the payment counts again',
	'payment-lost': 'won a dispute: the money is gone',
	'deleted-member': 'was deleted'
};

/** @param plan its name, where it is about one */
export function eventWords(action: string, after: unknown, plan: string | null = null): string {
	if (action === 'ran-out') return `lapsed: ${plan ?? 'a plan'} ran out`;
	if (action === 'granted' && plan !== null) return `joined ${plan}`;
	const hasEnded = typeof after === 'object' && after !== null && 'kind' in after && after.kind === 'ended';
	if (action === 'subscription-declined' && hasEnded) return 'lapsed: what was due was not paid';
	if (action === 'subscription-moved') return `moved to ${plan ?? 'another plan'}`;
	if (action === 'subscription-lowered') return `went down to ${plan ?? 'another plan'}`;
	return WORDS[action] ?? action.replaceAll('-', ' ');
}

/** A reason as it was kept: what was chosen and what was written, or only what was written. */
export function whyWords(why: string): string {
	const [chosen = '', ...written] = why.split(': ');
	const reason = CANCEL_WORDS[chosen as keyof typeof CANCEL_WORDS];
	return reason ? [reason, ...written].join(': ') : why;
}
