import { boolean, char, index, int, mysqlTable, primaryKey, varchar } from 'drizzle-orm/mysql-core';
import type { Permission } from '../../../core/staff/permissions';
import type { LanguageCode } from '../../../words/languages';
import { exactText, id, instant, json, uuid } from './types';

/** Owners may everything; staff what their role says. */
export type AccountRole = 'member' | 'staff' | 'owner';

/** A set of permissions with a name, for members of staff. */
export const roles = mysqlTable('roles', {
	id: id(),
	name: varchar('name', { length: 60 }).notNull(),
	permissions: json<Permission[]>()('permissions').notNull(),
	createdAt: instant('created_at').notNull()
});

/** Members and staff alike. */
export const accounts = mysqlTable(
	'accounts',
	{
		id: id(),
		/** Trimmed and in lower case; `null` once the account is deleted. */
		email: exactText('email', 254).unique(),
		name: varchar('name', { length: 120 }).notNull(),
		role: varchar('role', { length: 10 }).$type<AccountRole>().notNull(),
		/** Of staff: what they may do. */
		roleId: uuid('role_id'),
		/** Argon2id; `null` where the mailed link is the way in. */
		passwordHash: varchar('password_hash', { length: 200 }),
		/** Proofs of an older epoch are void. */
		epoch: int('epoch').notNull().default(0),
		/** Somebody has paid on the address, or has shown that it is theirs. Until then it is only a typed address. */
		claimedAt: instant('claimed_at'),
		/** Its mailbox was shown to be its owner's, by a mailed link that was pressed. */
		provedAt: instant('proved_at'),
		/** The order that made the account by being paid, until the mailbox is proved or somebody else adds to it. */
		claimedByOrderId: uuid('claimed_by_order_id'),
		/** The name was typed at a checkout, and nobody has proved to be called by it. */
		isNameTyped: boolean('is_name_typed').notNull().default(false),
		/** Of the pages and mails; `null`: the site's. */
		language: varchar('language', { length: 8 }).$type<LanguageCode>(),
		/** Since when they wish for no reminders of what they began to buy, and when they were sent one last. */
		remindersOffAt: instant('reminders_off_at'),
		remindedAt: instant('reminded_at'),
		/** By the business clock. */
		createdAt: instant('created_at').notNull(),
		deletedAt: instant('deleted_at')
	},
	(t) => [index('accounts_listed').on(t.role, t.deletedAt, t.createdAt)]
);

export type SessionBegin = 'password' | 'link' | 'order';

export const sessions = mysqlTable(
	'sessions',
	{
		/** SHA-256 of the cookie's token, in hex: the table alone signs nobody in. */
		tokenHash: char('token_hash', { length: 64 }).primaryKey(),
		accountId: uuid('account_id')
			.notNull()
			.references(() => accounts.id),
		/** A mailed link shows for an hour that whoever came by it may set another password. */
		begunBy: varchar('begun_by', { length: 8 }).$type<SessionBegin>().notNull().default('password'),
		createdAt: instant('created_at').notNull(),
		expiresAt: instant('expires_at').notNull()
	},
	(t) => [index('sessions_account').on(t.accountId), index('sessions_end').on(t.expiresAt)]
);

/** The secret that codes from an app on a phone are made of: whoever signs in is asked for one besides. */
export const secondFactors = mysqlTable('second_factors', {
	accountId: uuid('account_id')
		.primaryKey()
		.references(() => accounts.id),
	/** Sealed under the master key of this name. */
	keyId: varchar('key_id', { length: 40 }).notNull(),
	sealed: varchar('sealed', { length: 200 }).notNull(),
	/** By the wall clock. */
	since: instant('since').notNull(),
	/** Of the last code that was taken, as RFC 6238 counts: none counts twice. */
	lastStep: int('last_step').notNull()
});

/** Each signs in once where the phone is lost. */
export const recoveryCodes = mysqlTable(
	'recovery_codes',
	{
		accountId: uuid('account_id')
			.notNull()
			.references(() => accounts.id),
		codeHash: char('code_hash', { length: 64 }).notNull()
	},
	(t) => [primaryKey({ columns: [t.accountId, t.codeHash] })]
);

/** Whoever has shown the password, or the mailbox, and is asked for a code. None of them is signed in. */
export const halfSignIns = mysqlTable(
	'half_sign_ins',
	{
		tokenHash: char('token_hash', { length: 64 }).primaryKey(),
		accountId: uuid('account_id')
			.notNull()
			.references(() => accounts.id),
		begunBy: varchar('begun_by', { length: 8 }).$type<SessionBegin>().notNull(),
		expiresAt: instant('expires_at').notNull()
	},
	(t) => [index('half_sign_ins_account').on(t.accountId), index('half_sign_ins_end').on(t.expiresAt)]
);

/** Mailed links. Opening one does nothing; a press on its page uses it. */
export const signInLinks = mysqlTable('sign_in_links', {
	tokenHash: char('token_hash', { length: 64 }).primaryKey(),
	accountId: uuid('account_id')
		.notNull()
		.references(() => accounts.id),
	/** Path to land on. */
	next: varchar('next', { length: 700 }).notNull(),
	/** What a code opens on a device: pressing it keeps that in the account. */
	redemptionId: uuid('redemption_id'),
	createdAt: instant('created_at').notNull(),
	expiresAt: instant('expires_at').notNull(),
	usedAt: instant('used_at')
});

/** Another address for an account, once a link that was mailed to it is pressed; or the old one again. */
export const addressChanges = mysqlTable(
	'address_changes',
	{
		tokenHash: char('token_hash', { length: 64 }).primaryKey(),
		accountId: uuid('account_id')
			.notNull()
			.references(() => accounts.id),
		email: exactText('email', 254).notNull(),
		/** It puts back what was changed then; `null`: it is a change. */
		undoes: instant('undoes'),
		/** Asked for at the Desk; else by the account itself, and then it is pressed where that is signed in. */
		isByStaff: boolean('is_by_staff').notNull().default(false),
		createdAt: instant('created_at').notNull(),
		expiresAt: instant('expires_at').notNull(),
		usedAt: instant('used_at')
	},
	(t) => [index('address_changes_account').on(t.accountId), index('address_changes_end').on(t.expiresAt)]
);

/** Ways to a free account: mailed to an address that has none yet; it is made when the link is pressed. */
export const joinLinks = mysqlTable(
	'join_links',
	{
		tokenHash: char('token_hash', { length: 64 }).primaryKey(),
		email: exactText('email', 254).notNull(),
		/** Path to land on. */
		next: varchar('next', { length: 700 }).notNull(),
		/** The order that pressing it stands by. */
		orderId: uuid('order_id'),
		/** What a code opens on a device: pressing it keeps that in the account. */
		redemptionId: uuid('redemption_id'),
		createdAt: instant('created_at').notNull(),
		expiresAt: instant('expires_at').notNull(),
		usedAt: instant('used_at')
	},
	(t) => [index('join_links_email').on(t.email)]
);

/** One-time tokens that make the first owner. */
export const ownerTokens = mysqlTable('owner_tokens', {
	tokenHash: char('token_hash', { length: 64 }).primaryKey(),
	createdAt: instant('created_at').notNull()
});

/** Fixed windows, shared by all nodes. */
export const rateLimits = mysqlTable(
	'rate_limits',
	{
		bucket: exactText('bucket', 160).primaryKey(),
		windowEnd: instant('window_end').notNull(),
		count: int('count').notNull()
	},
	(t) => [index('rate_limits_end').on(t.windowEnd)]
);
