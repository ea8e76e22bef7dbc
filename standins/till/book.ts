/** What the Till knows: payments, vaulted cards, and what it still has to tell. Kept in one file between starts. */
import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

export const CARDS = {
	works: 'Works, now and at every renewal',
	declined: 'Declined',
	'fails-on-renewal': 'Works now, declined at every renewal'
} as const;
export type CardKind = keyof typeof CARDS;

export interface TillPayment {
	ref: string;
	state: 'pending' | 'declined' | 'captured' | 'refunded';
	amountMinor: number;
	currency: string;
	text: string;
	statementName: string;
	returnUrl: string | null;
	cardRef: string | null;
	at: string;
}

export interface TillEvent {
	id: string;
	paymentRef: string;
	tries: number;
	isAnswered: boolean;
	at: string;
}

/** How notifications go out: once, twice, kept back until they are let go (last first), or not at all. */
export const DELIVERIES = ['once', 'twice', 'kept-back', 'not-at-all'] as const;
export type Delivery = (typeof DELIVERIES)[number];

interface Contents {
	payments: Record<string, TillPayment>;
	cards: Record<string, CardKind>;
	/** Idempotency keys and what they made. */
	keys: Record<string, string>;
	events: TillEvent[];
	delivery: Delivery;
}

const EVENTS_KEPT = 5000;
const WRITE_AFTER_MS = 200;

export class Book {
	readonly contents: Contents;
	private pending: NodeJS.Timeout | null = null;

	constructor(private readonly path: string) {
		mkdirSync(dirname(path), { recursive: true });
		this.contents = read(path) ?? { payments: {}, cards: {}, keys: {}, events: [], delivery: 'once' };
	}

	/** Makes a payment once for each key. */
	once(key: string, make: () => TillPayment): TillPayment {
		const known = this.contents.payments[this.contents.keys[key] ?? ''];
		if (known) return known;
		const made = make();
		this.contents.keys[key] = made.ref;
		this.contents.payments[made.ref] = made;
		this.changed();
		return made;
	}

	newRef(): string {
		return `till-${randomUUID()}`;
	}

	vault(kind: CardKind): string {
		const ref = `card-${randomUUID()}`;
		this.contents.cards[ref] = kind;
		return ref;
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
		this.changed();
		return event;
	}

	changed(): void {
		this.pending ??= setTimeout(() => this.write(), WRITE_AFTER_MS);
	}

	write(): void {
		if (this.pending) clearTimeout(this.pending);
		this.pending = null;
		writeFileSync(`${this.path}.new`, JSON.stringify(this.contents));
		renameSync(`${this.path}.new`, this.path);
	}
}

function read(path: string): Contents | null {
	try {
		return JSON.parse(readFileSync(path, 'utf8')) as Contents;
	} catch {
		return null;
	}
}
