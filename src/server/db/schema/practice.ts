/** What is kept of practising alone: cards that no bank knows, what was paid with them, and mails that go nowhere. */
import { bigint, boolean, char, index, int, longtext, mysqlTable, varchar } from 'drizzle-orm/mysql-core';
import type { TestCard, TestCardKind } from '../../../core/billing/test-cards';
import type { DisputeReport, PaymentState, RefundReport } from '../../../core/billing/payment';
import { exactText, id, instant, json } from './types';

/** As a processor tells of them; moments are by the wall clock. */
export interface PracticeRefund extends RefundReport {
	own: string | null;
	at: number | null;
}
export interface PracticeDispute extends DisputeReport {
	openedAt: number | null;
	closedAt: number | null;
}

export const practiceCards = mysqlTable('practice_cards', {
	ref: exactText('ref', 80).primaryKey(),
	kind: varchar('kind', { length: 20 }).$type<TestCardKind>().notNull(),
	expires: char('expires', { length: 7 }).notNull(),
	/** Charges that still work; `null`: all. */
	worksFor: int('works_for'),
	country: char('country', { length: 2 })
});

/** The book of the processor that practising is paid with. */
export const practicePayments = mysqlTable(
	'practice_payments',
	{
		ref: exactText('ref', 80).primaryKey(),
		idempotencyKey: varchar('idempotency_key', { length: 160 }).notNull().unique(),
		state: varchar('state', { length: 10 }).$type<PaymentState>().notNull(),
		/** A card is to be kept, and nothing paid. */
		isCardOnly: boolean('is_card_only').notNull(),
		amountMinor: bigint('amount_minor', { mode: 'number' }).notNull(),
		currency: char('currency', { length: 3 }).notNull(),
		text: varchar('text', { length: 300 }).notNull(),
		statementName: varchar('statement_name', { length: 40 }).notNull(),
		/** Where its page leads back to; `null`: it has none. */
		returnUrl: varchar('return_url', { length: 700 }),
		cardRef: exactText('card_ref', 80),
		/** The card whose bank asks for a second step now. */
		awaits: json<TestCard>()('awaits'),
		refunds: json<PracticeRefund[]>()('refunds').notNull(),
		disputes: json<PracticeDispute[]>()('disputes').notNull(),
		/** By the wall clock, as all of it: when its page ends, when it was made, and when it came in or was declined. */
		expiresAt: instant('expires_at'),
		createdAt: instant('created_at').notNull(),
		settledAt: instant('settled_at'),
		/** Counts what happened, over all payments. */
		changedAs: int('changed_as').notNull()
	},
	(t) => [index('practice_payments_changed').on(t.changedAs)]
);

/** Mails as they would have arrived. */
export const practiceMails = mysqlTable(
	'practice_mails',
	{
		id: id(),
		/** Of the mail: what is sent twice under one is one. */
		key: varchar('mail_key', { length: 120 }).notNull().unique(),
		to: exactText('to_email', 254).notNull(),
		subject: varchar('subject', { length: 400 }).notNull(),
		text: longtext('text').notNull(),
		html: longtext('html').notNull(),
		at: instant('at').notNull()
	},
	(t) => [index('practice_mails_at').on(t.at)]
);
