import type { Money } from '$core/billing/money';
import type { PaymentState, PaymentStep } from '$core/billing/payment';

/** What the processor says of a payment, fetched from it and believed; its notifications are only hints. */
export interface PaymentFact {
	ref: string;
	state: PaymentState;
	amount: Money;
	/** The vaulted card, once one was accepted. */
	cardRef: string | null;
	/** When each step happened, by the wall clock, as far as the processor says. */
	when: Partial<Record<PaymentStep, number>>;
}

export interface IncomingNotification {
	method: string;
	path: string;
	header: (name: string) => string | null;
	body: Uint8Array;
}

export type ReadNotification =
	| { ok: true; eventId: string; paymentRef: string }
	| { ok: false; code: 'unsigned' | 'forged' | 'stale' | 'unreadable' };

/** The processor vaults cards and executes charges; periods, retries and proration are Stile's. */
export interface Payments {
	/** Where its pay pages lie: forms may lead there. */
	readonly payOrigins: readonly string[];
	/** Begins a payment on the processor's own page. The same `key` gives the same session. */
	openSession(ask: {
		key: string;
		amount: Money;
		text: string;
		statementName: string;
		returnUrl: string;
		/** By the wall clock. Nobody can pay on the page after it. */
		expiresAt: number;
	}): Promise<{ ref: string; payUrl: string }>;
	/** Nobody can pay on the page any more. One that was paid, or that is not known, stays as it is. */
	endSession(ref: string): Promise<void>;
	/** Charges a vaulted card. The same `key` charges once. */
	charge(ask: { key: string; cardRef: string; amount: Money; text: string }): Promise<PaymentFact>;
	/** The charge that a key made; `null` where it never came to one. */
	findCharge(key: string): Promise<PaymentFact | null>;
	refund(ask: { key: string; ref: string }): Promise<PaymentFact>;
	/** `null`: the processor does not know it, or has forgotten it. */
	fetch(ref: string): Promise<PaymentFact | null>;
	/** What has changed since a cursor that was given before, the oldest first; `null` begins with the first of all. */
	changedSince(cursor: string | null): Promise<{ facts: PaymentFact[]; cursor: string | null }>;
	readNotification(incoming: IncomingNotification, wallNow: number): ReadNotification;
}
