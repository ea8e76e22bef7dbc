/**
 * Facts about a payment only move forward.
 *
 * A payment comes in, or does not; what goes back of it stands beside it: refunds, of any part and several of them, and
 * disputes, which are open, won or lost. Notifications come late, twice and out of order, so what the processor reports is
 * compared with what is held, and only what is missing is booked, in its order; a report of something older changes nothing.
 * Example: a payment that is held for pending and that is reported with a refund came in first, and is booked as both.
 */

export const PAYMENT_STATES = [
	'pending',
	'declined',
	/** The pay page ended before anybody paid on it. */
	'expired',
	'captured'
] as const;
export type PaymentState = (typeof PAYMENT_STATES)[number];

export type DisputeState = 'open' | 'won' | 'lost';

/** What is known of a payment; amounts in minor units of its currency. */
export interface PaymentReport {
	state: PaymentState;
	/** Each by the processor's reference. */
	refunds: readonly RefundReport[];
	disputes: readonly DisputeReport[];
}

export interface RefundReport {
	ref: string;
	amountMinor: number;
}

export interface DisputeReport {
	ref: string;
	amountMinor: number;
	state: DisputeState;
}

/** Something that is still to be booked. */
export type Movement<R extends RefundReport = RefundReport, D extends DisputeReport = DisputeReport> =
	| { kind: 'declined' | 'expired' | 'captured' }
	| { kind: 'refunded'; refund: R }
	/** The buyer's bank takes it back; `won`: it comes back from there; `lost`: it does not. */
	| { kind: 'disputed' | 'won' | 'lost'; dispute: D };

/** What is still to be booked to get from what is held to what is reported, in order. */
export function movementsTo<R extends RefundReport, D extends DisputeReport>(
	held: PaymentReport,
	reported: { state: PaymentState; refunds: readonly R[]; disputes: readonly D[] }
): Movement<R, D>[] {
	const { state, refunds, disputes } = reported;
	const cameIn = state === 'captured' || refunds.length > 0 || disputes.length > 0;
	if (!cameIn) return held.state === 'pending' && state !== 'pending' ? [{ kind: state }] : [];
	const captured: Movement<R, D>[] = held.state === 'captured' ? [] : [{ kind: 'captured' }];
	const known = new Set(held.refunds.map(({ ref }) => ref));
	const back = refunds
		.filter(({ ref }) => !known.has(ref))
		.map((refund): Movement<R, D> => ({ kind: 'refunded', refund }));
	const taken = disputes.flatMap((dispute) => disputeMovements<R, D>(held, dispute));
	return [...captured, ...taken, ...back];
}

function disputeMovements<R extends RefundReport, D extends DisputeReport>(
	held: PaymentReport,
	dispute: D
): Movement<R, D>[] {
	const known = held.disputes.find(({ ref }) => ref === dispute.ref);
	const opened: Movement<R, D>[] = known ? [] : [{ kind: 'disputed', dispute }];
	// A bank decides once.
	if (dispute.state === 'open' || (known && known.state !== 'open')) return opened;
	return [...opened, { kind: dispute.state, dispute }];
}

/** What is held once a movement is booked. */
export function withMovement(held: PaymentReport, movement: Movement): PaymentReport {
	switch (movement.kind) {
		case 'declined':
		case 'expired':
		case 'captured':
			return { ...held, state: movement.kind };
		case 'refunded':
			return { ...held, refunds: [...held.refunds, movement.refund] };
		case 'disputed':
			return { ...held, disputes: [...held.disputes, { ...movement.dispute, state: 'open' }] };
		case 'won':
		case 'lost': {
			const { kind, dispute } = movement;
			const disputes = held.disputes.map((one) => (one.ref === dispute.ref ? { ...one, state: kind } : one));
			return { ...held, disputes };
		}
	}
}

/** What is there of a payment: of what came in, what went back and what a bank has taken. In minor units. */
export interface Balance {
	state: PaymentState;
	amountMinor: number;
	/** What was refunded, and what somebody has asked to be. */
	refundedMinor: number;
	dispute: DisputeState | null;
}

/** What may be refunded still, in minor units: nothing of what a bank has. Refunds never exceed the payment. */
export function refundable({ state, amountMinor, refundedMinor, dispute }: Balance): number {
	if (state !== 'captured' || dispute === 'open' || dispute === 'lost') return 0;
	return Math.max(0, amountMinor - refundedMinor);
}

/** Where a payment stands, in a word. */
export const STANDINGS = [
	'pending',
	'declined',
	'expired',
	'captured',
	'part-refunded',
	'refunded',
	'disputed',
	'won',
	'lost'
] as const;
export type PaymentStanding = (typeof STANDINGS)[number];

export function standingOf({ state, amountMinor, refundedMinor, dispute }: Balance): PaymentStanding {
	if (state !== 'captured') return state;
	if (dispute === 'open') return 'disputed';
	if (dispute === 'lost') return 'lost';
	if (refundedMinor > 0) return refundedMinor < amountMinor ? 'part-refunded' : 'refunded';
	return dispute ?? 'captured';
}
