import type { Money } from '$core/billing/money';
import type { ProcessorName } from '$core/billing/pay-by';
import type { DisputeReport, PaymentState, RefundReport } from '$core/billing/payment';

/** What a processor says of a payment, fetched from it and believed; its notifications are only hints. */
export interface PaymentFact {
	ref: string;
	state: PaymentState;
	amount: Money;
	/** The card that was taken, once one was. */
	card: Card | null;
	/** When it came in or was declined, by the wall clock, as far as the processor says. */
	settledAt: number | null;
	refunds: readonly RefundFact[];
	disputes: readonly DisputeFact[];
}

/** A card as the processor keeps it, and as it may be shown. */
export interface Card {
	ref: string;
	/** The last digits of its number. */
	ending: string;
	/** The month it is good to, such as 2028-09; `null`: not known. */
	expires: string | null;
	/** Where its bank is (ISO 3166-1 alpha-2); `null`, or missing: not known. */
	country?: string | null;
}

/** What became of a page on which a card was to be kept. */
export interface CardFact {
	ref: string;
	state: PaymentState;
	card: Card | null;
}

export interface RefundFact extends RefundReport {
	/** Under which id Stile asked for it; `null`: it was done at the processor. */
	own: string | null;
	/** By the wall clock. */
	at: number | null;
}

export interface DisputeFact extends DisputeReport {
	/** By the wall clock. */
	openedAt: number | null;
	closedAt: number | null;
}

/** A processor will not: the money is not there any more, or was never there. Another try mends nothing. */
export class RefundRefused extends Error {
	readonly code = 'refund-refused';
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

/**
 * Whoever takes the money. Some vault cards and charge them; periods, retries and proration are Stile's. There are several at
 * once, each by its name; tests/database/processors.test.ts says what holds of every one.
 */
export interface Processor {
	/** Where its pay pages lie, besides Stile's own origin: forms may lead there. */
	readonly payOrigins: readonly string[];
	/** `null`: it keeps no cards, and charges nothing by itself. */
	readonly vault: Vault | null;
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
	/** Asks for what is due: of a vaulted card, or of a member who pays by themselves. The same `key` asks once. */
	charge(ask: { key: string; cardRef: string | null; amount: Money; text: string }): Promise<PaymentFact>;
	/** The charge that a key made; `null` where it never came to one. */
	findCharge(key: string): Promise<PaymentFact | null>;
	/**
	 * Refunds a part of a payment, or all of it; the same `own` refunds once. Where somebody has to send the money by hand, the
	 * fact knows of it when they have. Throws `RefundRefused`.
	 */
	refund(ask: { own: string; ref: string; amountMinor: number }): Promise<PaymentFact>;
	/** `null`: the processor does not know it, or has forgotten it. */
	fetch(ref: string): Promise<PaymentFact | null>;
	/** What has changed since a cursor that was given before, the oldest first; `null` begins with the first of all. */
	changedSince(
		cursor: string | null
	): Promise<{ facts: PaymentFact[]; cards: CardFact[]; cursor: string | null }>;
	readNotification(incoming: IncomingNotification, wallNow: number): ReadNotification;
}

/** The cards that a processor keeps. */
export interface Vault {
	/** Begins the keeping of a card on the processor's own page: nothing is paid. The same `key` gives the same session. */
	openSession(ask: {
		key: string;
		text: string;
		statementName: string;
		returnUrl: string;
		/** By the wall clock. */
		expiresAt: number;
	}): Promise<{ ref: string; payUrl: string }>;
	/** `null`: the processor does not know the page, or has forgotten it. */
	fetch(ref: string): Promise<CardFact | null>;
}

export type Processors = Readonly<Record<ProcessorName, Processor>>;
