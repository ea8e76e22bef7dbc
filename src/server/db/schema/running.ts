import { bigint, boolean, char, index, int, mysqlTable, primaryKey, varchar } from 'drizzle-orm/mysql-core';
import type { LegalLinks } from '../../../core/looks/legal';
import type { Colour } from '../../../core/looks/colour';
import type { ProcessorName } from '../../../core/billing/pay-by';
import type { Collecting } from '../../../core/billing/agreement-facts';
import type { TaxRules } from '../../../core/billing/tax';
import type { SiteLimits, TurnAway } from '../../../core/access/model';
import type { TellHow, TellKind } from '../../../core/staff/telling';
import type { Fate } from '../../../core/mail/returned';
import type { Deterrents } from '../../../core/media/deterrents';
import { exactText, id, instant, json, uuid } from './types';
import type { LanguageCode } from '../../../words/languages';

/** Jobs of one lane run one after the other; `billing` runs by the business clock, the others by the wall clock. */
export const LANES = ['media', 'billing', 'payments', 'sign-in', 'mail', 'calls'] as const;
export type Lane = (typeof LANES)[number];

/** Whatever waits in them is a mail. */
export const MAIL_LANES = ['sign-in', 'mail'] as const satisfies readonly Lane[];

/** Kinds of jobs of the Library; all others are about members and money. */
export const JOBS_OF_LIBRARY: ReadonlySet<string> = new Set(['prepare', 'take-in']);

/** The queue. Effects of a use case are put here in its own transaction. */
export const jobs = mysqlTable(
	'jobs',
	{
		id: id(),
		lane: varchar('queue', { length: 10 }).$type<Lane>().notNull(),
		kind: varchar('kind', { length: 30 }).notNull(),
		payload: json<Record<string, unknown>>()('payload').notNull(),
		runAt: instant('run_at').notNull(),
		state: varchar('state', { length: 8 }).$type<'waiting' | 'running' | 'done' | 'failed'>().notNull(),
		leaseToken: char('lease_token', { length: 36 }),
		leaseUntil: instant('lease_until'),
		attempts: int('attempts').notNull().default(0),
		/** 0 to 100. */
		progress: int('progress').notNull().default(0),
		problem: varchar('problem', { length: 500 }),
		subjectId: uuid('subject_id'),
		/** Whom it is about: forgotten with them. */
		memberId: uuid('member_id'),
		createdAt: instant('created_at').notNull()
	},
	(t) => [
		index('jobs_due').on(t.lane, t.state, t.runAt),
		index('jobs_subject').on(t.subjectId),
		index('jobs_member').on(t.memberId),
		index('jobs_kind').on(t.kind),
		index('jobs_state').on(t.state, t.createdAt)
	]
);

/** What was queued and may not be queued again, long after the job itself is forgotten. */
export const onceKeys = mysqlTable(
	'once_keys',
	{
		key: exactText('once_key', 160).primaryKey(),
		at: instant('at').notNull()
	},
	(t) => [index('once_keys_at').on(t.at)]
);

/** The one action that is no change: a look from the other side. A trigger lets these rows, and no others, be forgotten. */
export const LOOKED = 'looked-as';

/** Append-only (triggers refuse the rest): who, what, before, after, why. */
export const audit = mysqlTable(
	'audit',
	{
		id: id(),
		wallAt: instant('wall_at').notNull(),
		businessAt: instant('business_at').notNull(),
		/** `null`: Stile itself. */
		actorId: uuid('actor_id'),
		action: varchar('action', { length: 40 }).notNull(),
		subjectKind: varchar('subject_kind', { length: 20 }).notNull(),
		subjectId: uuid('subject_id').notNull(),
		/** The member it is about, if one. */
		memberId: uuid('member_id'),
		before: json<unknown>()('before_value'),
		after: json<unknown>()('after_value'),
		why: varchar('why', { length: 1000 })
	},
	(t) => [
		index('audit_subject').on(t.subjectId),
		index('audit_member').on(t.memberId),
		index('audit_action').on(t.action, t.wallAt)
	]
);

/** The business clock: the wall clock plus an offset, which is 0 outside the demo. */
export const businessClock = mysqlTable('business_clock', {
	id: int('id').primaryKey(),
	offsetMs: bigint('offset_ms', { mode: 'number' }).notNull()
});

export interface Seller {
	name: string;
	/** In lines, as on a letter. */
	address: string;
	/** As the tax office writes it. */
	taxNumber: string;
}

export interface SiteSettings {
	siteName: string;
	/** As it stands on the card statement. */
	statementName: string;
	senderEmail: string;
	zone: string;
	/** Of the front and of mails. */
	language: LanguageCode;
	currency: string;
	/** For whoever is turned away, where a fence has none of its own. */
	turnAway: TurnAway;
	limits: SiteLimits;
	/** Hour of the day at which releases open; `null`: the time of day at which somebody joined. */
	releaseHour: number | null;
	/** A gap between grants of fewer days is no lapse. */
	lapseAfterDays: number;
	/** What makes passing things on harder. */
	deterrents: Deterrents;
	/** How the front and mails look; `null`: in Stile's own colour. */
	looks: { colour: Colour | null };
	/** How a payment that was declined is asked for again; what fell due before a change keeps what was set then. */
	collecting: Collecting;
	/** Linked at the foot of every page and mail. */
	legal: LegalLinks;
	/** The ways to pay, the first choice first. */
	payBy: readonly ProcessorName[];
	/** What buyers read of paying offline: what it is called, and how it is done. */
	offline: { name: string; how: string };
	/** As it stands on receipts; an empty name: the site's. */
	seller: Seller;
	/** What tax is asked for, and where. */
	tax: TaxRules;
	/** Whether everybody who works at the Desk is asked for a code besides when signing in. */
	staffNeedCode: boolean;
	/** Whether members may pause what they pay by the period. */
	mayPause: boolean;
	/** How many hours after they began to buy members are reminded; `null`: nobody is. */
	remindsAfterHours: number | null;
}

export const settings = mysqlTable('settings', {
	id: int('id').primaryKey(),
	value: json<SiteSettings>()('value').notNull()
});

/** Mails in the publisher's own words, by occasion. What is not there is said as Stile says it. */
export const mailTexts = mysqlTable(
	'mail_texts',
	{
		occasion: varchar('occasion', { length: 40 }).notNull(),
		language: varchar('language', { length: 8 }).$type<LanguageCode>().notNull().default('en'),
		subject: varchar('subject', { length: 200 }).notNull(),
		text: varchar('text', { length: 4000 }).notNull(),
		button: varchar('button', { length: 80 }),
		changedAt: instant('changed_at').notNull()
	},
	(t) => [primaryKey({ columns: [t.occasion, t.language] })]
);

/** What was mailed to members, or would have been: what became of it, and not what it said. Forgotten with them. */
export const sentMails = mysqlTable(
	'sent_mails',
	{
		/** Of the job that sent it: what is sent once more after a crash is one mail. */
		id: uuid('id').primaryKey(),
		memberId: uuid('member_id').notNull(),
		address: exactText('address', 254).notNull(),
		subject: varchar('subject', { length: 300 }).notNull(),
		/** `held`: it was not sent, for mails to the address come back. */
		fate: varchar('fate', { length: 10 }).$type<Fate | 'held'>().notNull().default('sent'),
		/** What the server said that did not take it. */
		fateCode: varchar('fate_code', { length: 12 }),
		fateWords: varchar('fate_words', { length: 300 }),
		/** When that was heard of. */
		fateAt: instant('fate_at'),
		/** From then on it says nothing against the address any more. */
		clearedAt: instant('cleared_at'),
		at: instant('at').notNull()
	},
	(t) => [
		index('sent_mails_member').on(t.memberId, t.at),
		index('sent_mails_at').on(t.at),
		index('sent_mails_address').on(t.address, t.fate, t.at),
		index('sent_mails_fate').on(t.fate, t.fateAt)
	]
);

/** How a member of staff is told of each kind of thing; where there is no row, as Stile does it. */
export const tellWishes = mysqlTable(
	'tell_wishes',
	{
		accountId: uuid('account_id').notNull(),
		kind: varchar('kind', { length: 10 }).$type<TellKind>().notNull(),
		how: varchar('how', { length: 8 }).$type<TellHow>().notNull()
	},
	(t) => [primaryKey({ columns: [t.accountId, t.kind] })]
);

/** What happened that staff are mailed of. Names are looked up when it is written: they go with whom they name. */
export const tellings = mysqlTable(
	'tellings',
	{
		id: id(),
		/** Where it was found, so that it is told once: a row of the audit, a job, the end of what somebody held. */
		source: exactText('source', 160).notNull().unique(),
		action: varchar('action', { length: 40 }).notNull(),
		/** An agreement that was declined and ended by it. */
		hasEnded: boolean('has_ended').notNull(),
		/** Of a job that failed. */
		jobKind: varchar('job_kind', { length: 30 }),
		memberId: uuid('member_id'),
		planId: uuid('plan_id'),
		actorId: uuid('actor_id'),
		/** By the business clock. */
		at: instant('at').notNull(),
		foundAt: instant('found_at').notNull(),
		/** The mails that told of it. */
		atOnceBatch: uuid('at_once_batch'),
		dailyBatch: uuid('daily_batch')
	},
	(t) => [
		index('tellings_at_once').on(t.atOnceBatch),
		index('tellings_daily').on(t.dailyBatch),
		index('tellings_found').on(t.foundAt)
	]
);

/** How far was looked for what is to be told: one row. */
export const tellRounds = mysqlTable('tell_rounds', {
	id: int('id').primaryKey(),
	/** By the wall clock. */
	lookedAt: instant('looked_at').notNull(),
	/** Nothing that was before is told of. */
	beganAt: instant('began_at').notNull(),
	/** By the business clock. */
	lapsesUntil: instant('lapses_until').notNull(),
	dailyAt: instant('daily_at').notNull()
});

/** Keys of outside programs that ask for decisions. */
export const apiKeys = mysqlTable('api_keys', {
	id: id(),
	name: varchar('name', { length: 120 }).notNull(),
	/** SHA-256 of the key, in hex: the table alone opens nothing. */
	keyHash: char('key_hash', { length: 64 }).notNull().unique(),
	createdAt: instant('created_at').notNull(),
	revokedAt: instant('revoked_at')
});
