import { boolean, index, int, mysqlTable, primaryKey, varchar } from 'drizzle-orm/mysql-core';
import type { CallEvent, CallKind } from '../../../core/listeners/listening';
import { exactText, id, instant, json, uuid } from './types';

/** Programs that are told who joins, leaves and buys. */
export const listeners = mysqlTable('listeners', {
	id: id(),
	name: varchar('name', { length: 80 }).notNull(),
	/** Where it is called; `null`: nobody is called, and what happened is kept as a table. */
	url: exactText('url', 500),
	events: json<CallEvent[]>()('events').notNull(),
	/** `null`: of all plans. */
	planIds: json<string[]>()('plan_ids'),
	/** What its calls are signed with, sealed under the master key of this name. */
	keyId: varchar('key_id', { length: 40 }).notNull(),
	sealed: varchar('sealed', { length: 300 }).notNull(),
	/** Who calls it now, and until when nobody else does. By the wall clock, as what follows. */
	turnToken: uuid('turn_token'),
	turnUntil: instant('turn_until'),
	/** How often it has not answered in a row, and until when it is let alone for it. */
	failures: int('failures').notNull().default(0),
	restsUntil: instant('rests_until'),
	createdAt: instant('created_at').notNull(),
	/** From then on it is told nothing any more. */
	endedAt: instant('ended_at')
});

/** `let-go`: refused, and somebody has seen it. */
export const CALL_STATES = ['waiting', 'taken', 'refused', 'let-go'] as const;
export type CallState = (typeof CALL_STATES)[number];

/** What each was told, or is to be told, in order. Forgotten some time after. */
export const calls = mysqlTable(
	'calls',
	{
		id: id(),
		listenerId: uuid('listener_id')
			.notNull()
			.references(() => listeners.id),
		event: varchar('event', { length: 8 }).$type<CallKind>().notNull(),
		/** What happened to whom, as it is sent. */
		content: json<Record<string, unknown>>()('content').notNull(),
		/** Whom it is about: forgotten with them, but for what says that they left. */
		memberId: uuid('member_id'),
		state: varchar('state', { length: 8 }).$type<CallState>().notNull(),
		/** Since when it could have been made: nothing stands before it any more. By the wall clock, as what follows. */
		dueAt: instant('due_at'),
		tries: int('tries').notNull().default(0),
		lastTryAt: instant('last_try_at'),
		/** Of the last answer; `null`: there was none. */
		status: int('status'),
		/** The first words of the answer, or why there was none. */
		answer: varchar('answer', { length: 300 }),
		createdAt: instant('created_at').notNull()
	},
	(t) => [
		index('calls_of').on(t.listenerId, t.state, t.id),
		index('calls_listed').on(t.listenerId, t.id),
		index('calls_member').on(t.memberId),
		index('calls_state').on(t.state, t.createdAt)
	]
);

/** Who holds which plan, as those that listen were told last. Kept while somebody listens. */
export const toldPlaces = mysqlTable(
	'told_places',
	{
		memberId: uuid('member_id').notNull(),
		planId: uuid('plan_id').notNull(),
		/** As it was told. */
		email: exactText('email', 254).notNull()
	},
	(t) => [primaryKey({ columns: [t.memberId, t.planId] })]
);

/** One row: whether the places are kept, locked by whoever compares them. */
export const placeRounds = mysqlTable('place_rounds', {
	id: int('id').primaryKey(),
	isKept: boolean('is_kept').notNull()
});
