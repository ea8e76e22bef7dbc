/**
 * Facts about a payment only move forward.
 *
 * Notifications come late, twice and out of order, so the state that the processor reports is reached by every step in
 * between, and a report of something older changes nothing. Example: a payment that we hold for pending and that is
 * reported as refunded was captured first, and is booked as both.
 */

export const PAYMENT_STATES = [
	'pending',
	'declined',
	'expired',
	'captured',
	'refunded',
	'disputed',
	/** The dispute was decided for the publisher: the money is there again. */
	'won'
] as const;
export type PaymentState = (typeof PAYMENT_STATES)[number];

/** `expired`: the pay page ended before anybody paid on it. */
export type PaymentStep = Exclude<PaymentState, 'pending'>;

/** The steps still to be booked to get from what we hold to what is reported, in order. */
export function stepsTo(held: PaymentState, reported: PaymentState): PaymentStep[] {
	switch (reported) {
		case 'pending':
			return [];
		case 'declined':
		case 'expired':
			return held === 'pending' ? [reported] : [];
		case 'captured':
			return isCaptured(held) ? [] : ['captured'];
		case 'refunded':
			if (held === 'refunded' || held === 'disputed') return [];
			return isCaptured(held) ? ['refunded'] : ['captured', 'refunded'];
		case 'disputed':
			if (held === 'refunded' || held === 'disputed' || held === 'won') return [];
			return isCaptured(held) ? ['disputed'] : ['captured', 'disputed'];
		case 'won':
			if (held === 'refunded' || held === 'won') return [];
			return held === 'disputed' ? ['won'] : [...stepsTo(held, 'disputed'), 'won'];
	}
}

function isCaptured(state: PaymentState): boolean {
	return state !== 'pending' && state !== 'declined' && state !== 'expired';
}
