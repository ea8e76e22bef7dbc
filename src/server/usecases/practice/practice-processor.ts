/**
 * Who takes the money where somebody practises: test cards, and no money. Its book lies in the practice book; its page is one of
 * the Desk's, and what a buyer's bank would do is pressed there, too.
 */
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { charged, TEST_CARDS, testCard, type TestCard, type TestCardKind } from '$core/billing/test-cards';
import type { Using } from '../../app';
import { practiceCards } from '../../db/schema/practice';
import {
	addPracticePayment,
	changePracticePayment,
	practiceCard,
	leftOf,
	practiceChangedAfter,
	practicePayment,
	practicePaymentByKey,
	type PracticePayment
} from '../../db/queries/practice';
import type { Tx } from '../../db/connect';
import {
	RefundRefused,
	type Card,
	type CardFact,
	type PaymentFact,
	type Processor
} from '../../ports/payments';

/** Where one pays, below the Desk: nobody else comes there. */
export const PRACTICE_PAY = '/desk/practice/pay';
const CHANGES_AT_ONCE = 100;

type Practising = Using<'clock' | 'db'>;

export function practiceProcessor({ db, clock }: Practising): Processor {
	type Page = Parameters<Processor['openSession']>[0];
	async function openPage(page: Omit<Page, 'amount'>, amount: PaymentFact['amount'] | null) {
		const { key, text, statementName, returnUrl, expiresAt } = page;
		const { ref } = await db.transaction((tx) =>
			addPracticePayment(tx, {
				...newPayment(key, amount ?? { minor: 0, currency: '' }, clock.wall()),
				...{ isCardOnly: amount === null, text, statementName, returnUrl, expiresAt }
			})
		);
		return { ref, payUrl: `${PRACTICE_PAY}/${ref}` };
	}
	async function factOf(payment: PracticePayment): Promise<PaymentFact> {
		const { ref, state, amountMinor: minor, currency, settledAt, refunds, disputes } = payment;
		return {
			ref,
			state,
			amount: { minor, currency },
			card: await cardOf(payment),
			settledAt,
			refunds,
			disputes
		};
	}
	async function cardOf({ cardRef }: PracticePayment): Promise<Card | null> {
		const card = cardRef === null ? null : await practiceCard(db, cardRef);
		if (!card) return null;
		const { ref, kind, expires, country } = card;
		return { ref, ending: TEST_CARDS[kind].ending, expires, country };
	}
	const cardFactOf = async (payment: PracticePayment): Promise<CardFact> => ({
		ref: payment.ref,
		state: payment.state,
		card: await cardOf(payment)
	});

	return {
		payOrigins: [],
		vault: {
			openSession: (page) => openPage(page, null),
			fetch: async (ref) => {
				const payment = await looked({ db, clock }, ref);
				return payment && cardFactOf(payment);
			}
		},
		openSession: ({ amount, ...page }) => openPage(page, amount),
		async endSession(ref) {
			await db.transaction((tx) =>
				changePracticePayment(tx, ref, ({ state }) => (state === 'pending' ? ended(clock.wall()) : null))
			);
		},
		async charge({ key, cardRef, amount, text }) {
			if (cardRef === null) throw new Error('There is no card to charge');
			const payment = await db.transaction(async (tx) => {
				// The first who asks charges it; the number that its change gets keeps others waiting.
				const made = await addPracticePayment(tx, {
					...newPayment(key, amount, clock.wall()),
					text,
					cardRef
				});
				if (made.state !== 'pending') return made;
				const works = await chargeCard(tx, cardRef);
				const state = works ? ('captured' as const) : ('declined' as const);
				const done = await changePracticePayment(tx, made.ref, () => ({ state, settledAt: clock.wall() }));
				return done ?? made;
			});
			return factOf(payment);
		},
		async findCharge(key) {
			const payment = await practicePaymentByKey(db, key);
			return payment && factOf(payment);
		},
		async refund({ own, ref, amountMinor }) {
			const payment = await db.transaction((tx) => giveBack(tx, ref, own, amountMinor, clock.wall()));
			if (!payment) throw new RefundRefused('So much is not there');
			return factOf(payment);
		},
		async fetch(ref) {
			const payment = await looked({ db, clock }, ref);
			return payment && factOf(payment);
		},
		async changedSince(cursor) {
			const changed = await practiceChangedAfter(db, Number(cursor ?? 0), CHANGES_AT_ONCE);
			return {
				facts: await Promise.all(changed.filter(({ isCardOnly }) => !isCardOnly).map(factOf)),
				cards: await Promise.all(changed.filter(({ isCardOnly }) => isCardOnly).map(cardFactOf)),
				cursor: String(changed.at(-1)?.changedAs ?? cursor ?? 0)
			};
		},
		/** Whoever writes into its book settles what it is of at once. */
		readNotification: () => ({ ok: false, code: 'unsigned' })
	};
}

function newPayment(
	idempotencyKey: string,
	{ minor: amountMinor, currency }: PaymentFact['amount'],
	createdAt: number
): Omit<PracticePayment, 'changedAs'> {
	return {
		...{
			ref: `practice-${uuidv7()}`,
			idempotencyKey,
			state: 'pending',
			isCardOnly: false,
			amountMinor,
			currency
		},
		...{
			text: '',
			statementName: '',
			returnUrl: null,
			cardRef: null,
			awaits: null,
			refunds: [],
			disputes: []
		},
		...{ expiresAt: null, createdAt, settledAt: null }
	};
}

const ended = (settledAt: number) => ({ state: 'expired' as const, settledAt, awaits: null });

/** A payment as it is by now: its page ends by itself. */
export async function looked({ db, clock }: Practising, ref: string): Promise<PracticePayment | null> {
	const payment = await practicePayment(db, ref);
	const hasEnded = payment?.state === 'pending' && clock.wall() >= (payment.expiresAt ?? Infinity);
	if (!payment || !hasEnded) return payment;
	const change = (now: PracticePayment) => (now.state === 'pending' ? ended(clock.wall()) : null);
	return (await db.transaction((tx) => changePracticePayment(tx, ref, change))) ?? practicePayment(db, ref);
}

/** Whether a charge of a kept card works; it counts. */
async function chargeCard(tx: Tx, ref: string): Promise<boolean> {
	const card = await practiceCard(tx, ref);
	if (!card) return false;
	const { works, worksFor } = charged(card);
	await tx.update(practiceCards).set({ worksFor }).where(eq(practiceCards.ref, ref));
	return works;
}

/** @returns the payment, also where it was given back under the same `own` before; `null`: so much is not there */
async function giveBack(tx: Tx, ref: string, own: string | null, amountMinor: number, at: number) {
	const changed = await changePracticePayment(tx, ref, (now) => {
		const isKnown = own !== null && now.refunds.some((one) => one.own === own);
		if (isKnown || amountMinor < 1 || amountMinor > leftOf(now)) return null;
		return { refunds: [...now.refunds, { ref: `practice-refund-${uuidv7()}`, own, amountMinor, at }] };
	});
	if (changed) return changed;
	const now = await practicePayment(tx, ref);
	return own !== null && now?.refunds.some((one) => one.own === own) ? now : null;
}

/** What is pressed on its page. */
export type Paying = { card: TestCardKind; later: number; country: string | null } | { step: 'yes' | 'no' };

/**
 * Pays on the page, or keeps the card.
 * @returns where it goes on: the page again where the bank asks for a second step; `null`: there is no such page
 */
export async function payPractised(app: Practising, ref: string, paying: Paying): Promise<string | null> {
	const payment = await looked(app, ref);
	if (!payment?.returnUrl) return null;
	const now = app.clock.wall();
	const next = await app.db.transaction(async (tx) => {
		const kept: { ref: string; card: TestCard }[] = [];
		const take = (card: TestCard) => {
			const ref = `practice-card-${uuidv7()}`;
			kept.push({ ref, card });
			return { state: 'captured' as const, settledAt: now, cardRef: ref, awaits: null };
		};
		const changed = await changePracticePayment(tx, ref, ({ state, awaits }) => {
			if (state !== 'pending') return null;
			if ('step' in paying) return awaits && (paying.step === 'yes' ? take(awaits) : declined(now));
			if (paying.card === 'declined') return declined(now);
			const card = testCard(paying.card, paying.later, now);
			if (paying.country !== null) card.country = paying.country;
			return paying.card === 'second-step' ? { awaits: card } : take(card);
		});
		for (const { ref, card } of kept) {
			const { kind, expires, worksFor, country = null } = card;
			await tx.insert(practiceCards).values({ ref, kind, expires, worksFor, country });
		}
		return changed;
	});
	return next?.state === 'pending' ? `${PRACTICE_PAY}/${ref}` : payment.returnUrl;
}

const declined = (settledAt: number) => ({ state: 'declined' as const, settledAt, awaits: null });

export const BANK_DEEDS = ['dispute', 'won', 'lost', 'refund'] as const;
export type BankDeed = (typeof BANK_DEEDS)[number];

/** What a buyer's bank does, or somebody at the processor. @returns whether it could be done */
export async function doAtBank({ db, clock }: Practising, ref: string, deed: BankDeed): Promise<boolean> {
	const at = clock.wall();
	return db.transaction(async (tx) => {
		const now = await practicePayment(tx, ref);
		if (!now) return false;
		if (deed === 'refund') return (await giveBack(tx, ref, null, leftOf(now), at)) !== null;
		const changed = await changePracticePayment(tx, ref, (payment) => {
			const { disputes } = payment;
			const amountMinor = leftOf(payment);
			const open = { ref: `practice-dispute-${uuidv7()}`, amountMinor, state: 'open' as const };
			if (deed === 'dispute')
				return amountMinor === 0
					? null
					: { disputes: [...disputes, { ...open, openedAt: at, closedAt: null }] };
			if (!disputes.some(({ state }) => state === 'open')) return null;
			const close = (one: (typeof disputes)[number]) =>
				one.state === 'open' ? { ...one, state: deed, closedAt: at } : one;
			return { disputes: disputes.map(close) };
		});
		return changed !== null;
	});
}
