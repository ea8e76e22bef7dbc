/**
 * Facts about a payment only move forward.
 *
 * Notifications come late, twice and out of order, so the state that the processor reports is reached by every step in
 * between, and a report of something older changes nothing. Example: a payment that we hold for pending and that is
 * reported as refunded was captured first, and is booked as both.
 */

export const PAYMENT_STATES = ['pending', 'declined', 'expired', 'captured', 'refunded', 'disputed'] as const;
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
		case 'disputed':
			if (held === 'refunded' || held === 'disputed') return [];
			return isCaptured(held) ? [reported] : ['captured', reported];
	}
}

function isCaptured(state: PaymentState): boolean {
	return state === 'captured' || state === 'refunded' || state === 'disputed';
}
