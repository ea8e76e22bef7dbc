import { bigint, boolean, index, int, mysqlTable, unique, varchar } from 'drizzle-orm/mysql-core';
import type { Audience, GrantSource, PolicySource, Selector, TurnAway } from '../../../core/access/model';
import { accounts } from './people';
import { id, instant, json, uuid } from './types';

export const fences = mysqlTable('fences', {
	id: id(),
	name: varchar('name', { length: 120 }).notNull(),
	isOn: boolean('is_on').notNull(),
	mode: varchar('mode', { length: 10 }).$type<'adds' | 'replaces'>().notNull(),
	selector: json<Selector>()('selector').notNull(),
	/** `null`: the site's default. */
	turnAway: json<TurnAway>()('turn_away'),
	createdAt: instant('created_at').notNull()
});

export const crossings = mysqlTable('crossings', {
	id: id(),
	fenceId: uuid('fence_id')
		.notNull()
		.references(() => fences.id, { onDelete: 'cascade' }),
	position: int('position').notNull(),
	audience: json<Audience>()('audience').notNull()
});

export const grants = mysqlTable(
	'grants',
	{
		id: id(),
		memberId: uuid('member_id')
			.notNull()
			.references(() => accounts.id),
		planId: uuid('plan_id').notNull(),
		from: instant('from_at').notNull(),
		until: instant('until_at'),
		/** Kept apart from `until`: nothing is overwritten. */
		revokedAt: instant('revoked_at'),
		source: varchar('source', { length: 12 }).$type<GrantSource>().notNull(),
		/** One grant for each order line. */
		orderLineId: uuid('order_line_id').unique()
	},
	(t) => [index('grants_member').on(t.memberId), index('grants_plan').on(t.planId)]
);

/** A member's time with a plan. */
export const tenures = mysqlTable(
	'tenures',
	{
		id: id(),
		memberId: uuid('member_id')
			.notNull()
			.references(() => accounts.id),
		planId: uuid('plan_id').notNull(),
		firstJoinedAt: instant('first_joined_at').notNull()
	},
	(t) => [unique('tenures_once').on(t.memberId, t.planId)]
);

/** Every version that was ever in force. */
export const policyVersions = mysqlTable('policy_versions', {
	version: bigint('version', { mode: 'number' }).autoincrement().primaryKey(),
	at: instant('at').notNull(),
	cause: varchar('cause', { length: 60 }).notNull(),
	source: json<PolicySource>()('source').notNull()
});

/** One row: updated as the last write of every transaction that changes rights. Nodes poll it. */
export const rightsCounter = mysqlTable('rights_counter', {
	id: int('id').primaryKey(),
	value: bigint('value', { mode: 'number' }).notNull()
});

/** What each step of the counter changed: one member's standing, or (`null`) the policy. */
export const rightsChanges = mysqlTable(
	'rights_changes',
	{
		value: bigint('value', { mode: 'number' }).notNull(),
		memberId: uuid('member_id')
	},
	(t) => [index('rights_changes_value').on(t.value)]
);
