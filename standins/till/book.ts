/** What the Till knows: payments, vaulted cards, and what it still has to tell. Kept in one file between starts. */
import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { charged, testCard, type TestCard, type TestCardKind } from '../../src/core/billing/test-cards';

export interface TillPayment {
	ref: string;
	state: 'pending' | 'declined' | 'expired' | 'captured';
	/** When it came in, or did not. */
	settledAt: string | null;
	/** `own`: the id under which the shop asked for it; `null`: it was done here. */
	refunds: { ref: string; own: string | null; amountMinor: number; at: string }[];
	disputes: {
		ref: string;
		amountMinor: number;
		state: 'open' | 'won' | 'lost';
		openedAt: string;
		closedAt: string | null;
	}[];
	amountMinor: number;
	currency: string;
	text: string;
	statementName: string;
	returnUrl: string | null;
	cardRef: string | null;
	/** A card is to be kept, and nothing paid. */
	isCardOnly?: boolean;
	/** The card whose bank asks for a second step now. */
	awaits?: TestCard | null;
	at: string;
	/** When its pay page ends, by the clock of the wall; `null`: it has none. */
	expiresAt: number | null;
	/** Counts what happened, over all payments: whoever asks what changed names the last that they have seen. */
	changedAs: number;
}

export interface TillEvent {
	id: string;
	paymentRef: string;
	tries: number;
	isAnswered: boolean;
	/** Somebody has taken it back: it is not tried again. */
	isDropped?: boolean;
	at: string;
}

/** How notifications go out: once, twice, some seconds late, kept back until they are let go (last first), or not at all. */
export const DELIVERIES = ['once', 'twice', 'late', 'kept-back', 'not-at-all'] as const;
export type Delivery = (typeof DELIVERIES)[number];

interface Contents {
	payments: Record<string, TillPayment>;
	cards: Record<string, TestCard>;
	/** Idempotency keys and what they made. */
	keys: Record<string, string>;
	events: TillEvent[];
	delivery: Delivery;
	/** The last number that a change was given. */
	changes: number;
	/** Answers no call, as if it were down. */
	isAway: boolean;
}

const EVENTS_KEPT = 5000;

export class Book {
	readonly contents: Contents;
	constructor(private readonly path: string) {
		mkdirSync(dirname(path), { recursive: true });
		const known = read(path);
		this.contents = {
			payments: {},
			cards: {},
			keys: {},
			events: [],
			delivery: 'once',
			changes: 0,
			isAway: false,
			...known
		};
	}

	/** Makes a payment once for each key. */
	once(key: string, make: () => TillPayment): TillPayment {
		const known = this.contents.payments[this.contents.keys[key] ?? ''];
		if (known) return known;
		const made = make();
		this.contents.keys[key] = made.ref;
		this.contents.payments[made.ref] = made;
		this.touch(made);
		return made;
	}

	/** A payment changed: it comes after everything that changed before. */
	touch(payment: TillPayment): void {
		payment.changedAs = ++this.contents.changes;
		this.write();
	}

	/** Payments that changed after a number, the oldest change first. */
	changedAfter(after: number, limit: number): TillPayment[] {
		return Object.values(this.contents.payments)
			.filter(({ changedAs }) => changedAs > after)
			.sort((a, b) => a.changedAs - b.changedAs)
			.slice(0, limit);
	}

	/** What of a payment is neither refunded nor with the buyer's bank. */
	left({ state, amountMinor, refunds, disputes }: TillPayment): number {
		if (state !== 'captured' || disputes.some((one) => one.state !== 'won')) return 0;
		return amountMinor - refunds.reduce((sum, one) => sum + one.amountMinor, 0);
	}

	newRef(): string {
		return `till-${randomUUID()}`;
	}

	vault(card: TestCard): string {
		const ref = `card-${randomUUID()}`;
		this.contents.cards[ref] = card;
		return ref;
	}

	/** Whether a charge of a kept card works; it counts. */
	charges(ref: string): boolean {
		const card = this.contents.cards[ref];
		if (!card) return false;
		const { works, worksFor } = charged(card);
		card.worksFor = worksFor;
		return works;
	}

	event(paymentRef: string): TillEvent {
		const event = {
			id: `event-${randomUUID()}`,
			paymentRef,
			tries: 0,
			isAnswered: false,
			at: new Date().toISOString()
		};
		this.contents.events.push(event);
		this.contents.events.splice(0, this.contents.events.length - EVENTS_KEPT);
		this.write();
		return event;
	}

	/** Those that were told of last, the newest first. */
	lastEvents(limit: number): TillEvent[] {
		return this.contents.events.slice(-limit).reverse();
	}

	/** Written before anybody is answered: what was said has been kept. */
	write(): void {
		writeFileSync(`${this.path}.new`, JSON.stringify(this.contents));
		renameSync(`${this.path}.new`, this.path);
	}
}

function read(path: string): Partial<Contents> | null {
	try {
		const known = JSON.parse(readFileSync(path, 'utf8')) as Partial<Contents>;
		for (const payment of Object.values(known.payments ?? {})) Object.assign(payment, asNow(payment));
		const { cards = {} } = known;
		for (const [ref, card] of Object.entries(cards as Record<string, TestCard | TestCardKind>))
			cards[ref] = typeof card === 'string' ? testCard(card, 1, Date.now()) : card;
		return known;
	} catch {
		return null;
	}
}

/** Earlier books had one state for all that became of a payment. */
function asNow(payment: TillPayment & { when?: Record<string, string> }): TillPayment {
	const { when = {}, ...rest } = payment;
	if (Array.isArray(payment.refunds)) return payment;
	const { ref, amountMinor, at } = payment;
	const was = payment.state as string;
	const { refunded, disputed, won } = when;
	const state = was === 'won' ? 'won' : 'open';
	const hasDispute = was === 'disputed' || was === 'won' || disputed !== undefined;
	return {
		...rest,
		state: ['refunded', 'disputed', 'won'].includes(was) ? 'captured' : payment.state,
		settledAt: when.captured ?? when.declined ?? when.expired ?? null,
		refunds: was === 'refunded' ? [{ ref: `${ref}-refund`, own: null, amountMinor, at: refunded ?? at }] : [],
		disputes: hasDispute
			? [{ ref: `${ref}-dispute`, amountMinor, state, openedAt: disputed ?? at, closedAt: won ?? null }]
			: []
	};
}
