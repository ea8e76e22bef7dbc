import {
	bigint,
	boolean,
	char,
	index,
	int,
	mysqlTable,
	primaryKey,
	unique,
	varchar
} from 'drizzle-orm/mysql-core';
import type { Bucket } from '../../../core/media/pace';
import type { Delta } from '../../../core/access/delta';
import type { Discount } from '../../../core/billing/discount';
import type {
	Audience,
	Fence,
	FenceMode,
	GrantSource,
	Limits,
	PolicySource,
	Release,
	Selector,
	TurnAway,
	Window
} from '../../../core/access/model';
import { accounts } from './people';
import { blob, exactText, id, instant, json, uuid } from './types';

export const fences = mysqlTable('fences', {
	id: id(),
	name: varchar('name', { length: 120 }).notNull(),
	isOn: boolean('is_on').notNull(),
	mode: varchar('mode', { length: 10 }).$type<FenceMode>().notNull(),
	selector: json<Selector>()('selector').notNull(),
	/** `null`: the site's default. */
	turnAway: json<TurnAway>()('turn_away'),
	listing: varchar('listing', { length: 8 }).$type<Fence['listing']>().notNull(),
	/** Counts saves: who saves an older one is shown what changed. */
	revision: int('revision').notNull().default(1),
	createdAt: instant('created_at').notNull()
});

export const crossings = mysqlTable(
	'crossings',
	{
		id: id(),
		fenceId: uuid('fence_id')
			.notNull()
			.references(() => fences.id, { onDelete: 'cascade' }),
		position: int('position').notNull(),
		audience: json<Audience>()('audience').notNull(),
		window: json<Window>()('access_window'),
		limits: json<Limits>()('limits').notNull(),
		isThroughout: boolean('is_throughout').notNull()
	},
	(t) => [index('crossings_fence').on(t.fenceId, t.position)]
);

/** Members that a crossing names. A crossing keeps its id while its fence is rewritten, and its row does not stay. */
export const namings = mysqlTable(
	'namings',
	{
		crossingId: uuid('crossing_id').notNull(),
		memberId: uuid('member_id')
			.notNull()
			.references(() => accounts.id, { onDelete: 'cascade' }),
		/** Their windows count from it. */
		since: instant('since').notNull()
	},
	(t) => [primaryKey({ columns: [t.crossingId, t.memberId] }), index('namings_member').on(t.memberId)]
);

/** A window for a plan's holders on an item, a collection or a category. */
export const releases = mysqlTable(
	'releases',
	{
		id: id(),
		planId: uuid('plan_id').notNull(),
		targetKind: varchar('target_kind', { length: 10 }).$type<Release['target']['kind']>().notNull(),
		targetId: uuid('target_id').notNull(),
		window: json<Window>()('access_window').notNull()
	},
	(t) => [unique('releases_once').on(t.planId, t.targetKind, t.targetId)]
);

/** Codes that are given out together. */
export const codeBatches = mysqlTable('code_batches', {
	id: id(),
	name: varchar('name', { length: 120 }).notNull(),
	/** The plan that a code gives; `null` where it opens fences by itself, or takes something off. */
	planId: uuid('plan_id'),
	/** What a code takes off; `null`: it gives. */
	discount: json<Discount>()('discount'),
	/** The plans that it is taken off; `null`: any. */
	offPlans: json<readonly string[]>()('off_plans'),
	/** Whether each buyer may use them once only. */
	isOncePerBuyer: boolean('is_once_per_buyer').notNull().default(false),
	/** How long the given plan is held; `null`: for good. */
	days: int('days'),
	startsAt: instant('starts_at'),
	endsAt: instant('ends_at'),
	/** How often each code may be redeemed; `null`: any number of times. */
	usesPerCode: int('uses_per_code'),
	createdAt: instant('created_at').notNull()
});

export const codes = mysqlTable(
	'codes',
	{
		id: id(),
		batchId: uuid('batch_id')
			.notNull()
			.references(() => codeBatches.id),
		/** In upper case, without spaces and hyphens. */
		code: exactText('code', 40).notNull().unique(),
		uses: int('uses').notNull().default(0)
	},
	(t) => [index('codes_batch').on(t.batchId)]
);

export const redemptions = mysqlTable(
	'redemptions',
	{
		id: id(),
		batchId: uuid('batch_id').notNull(),
		codeId: uuid('code_id')
			.notNull()
			.references(() => codes.id),
		/** Whose it is: a member's, or a device's, until the link is pressed that was mailed about it. */
		memberId: uuid('member_id'),
		deviceHash: char('device_hash', { length: 64 }),
		at: instant('at').notNull(),
		/** When the plan ends that it gives; `null`: it gives none, or for good. */
		until: instant('until')
	},
	(t) => [
		index('redemptions_member').on(t.memberId),
		index('redemptions_device').on(t.deviceHash),
		index('redemptions_batch').on(t.batchId, t.memberId),
		unique('redemptions_once_member').on(t.codeId, t.memberId),
		unique('redemptions_once_device').on(t.codeId, t.deviceHash)
	]
);

/** Counted openings. */
export const uses = mysqlTable(
	'uses',
	{
		id: id(),
		itemId: uuid('item_id').notNull(),
		memberId: uuid('member_id').notNull(),
		grantId: uuid('grant_id'),
		at: instant('at').notNull(),
		goesOnUntil: instant('goes_on_until').notNull(),
		/** Of a file: which content it was, and bytes of it that were sent and did not make it count. */
		assetId: uuid('asset_id'),
		sentBytes: bigint('sent_bytes', { mode: 'number' }).notNull().default(0),
		/** Almost nothing was sent: it does not count. */
		givenBackAt: instant('given_back_at')
	},
	(t) => [index('uses_of').on(t.memberId, t.itemId, t.at), index('uses_item').on(t.itemId, t.at)]
);

/** Uses that the publisher gave to a member on top of the limit. */
export const useGifts = mysqlTable(
	'use_gifts',
	{
		id: id(),
		itemId: uuid('item_id').notNull(),
		memberId: uuid('member_id').notNull(),
		count: int('count').notNull(),
		at: instant('at').notNull()
	},
	(t) => [index('use_gifts_of').on(t.memberId, t.itemId), index('use_gifts_item').on(t.itemId)]
);

/** How fast keys of a stream may be given to somebody, whichever node they ask. Forgotten when nobody has asked for a while. */
export const keyPaces = mysqlTable(
	'key_paces',
	{
		/** SHA-256 of whose it is and of the item, in hex. */
		name: char('name_hash', { length: 64 }).primaryKey(),
		bucket: json<Bucket>()('bucket').notNull(),
		/** By the wall clock. */
		at: instant('at').notNull()
	},
	(t) => [index('key_paces_at').on(t.at)]
);

/** From where a signed link was opened: one that goes round shows up here. */
export const linkOpenings = mysqlTable(
	'link_openings',
	{
		id: id(),
		/** Of the link's use, hashed: the link itself is not kept. */
		linkHash: char('link_hash', { length: 64 }).notNull(),
		itemId: uuid('item_id').notNull(),
		memberId: uuid('member_id').notNull(),
		network: varchar('network', { length: 60 }).notNull(),
		firstAt: instant('first_at').notNull(),
		lastAt: instant('last_at').notNull(),
		requests: int('requests').notNull()
	},
	(t) => [
		unique('link_openings_once').on(t.linkHash, t.network),
		index('link_openings_of').on(t.memberId, t.firstAt)
	]
);

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
		orderLineId: uuid('order_line_id').unique(),
		/** Of a seat: the grant of whoever has bought it, with which it goes. */
		seatOf: uuid('seat_of')
	},
	(t) => [
		index('grants_member').on(t.memberId),
		index('grants_plan').on(t.planId),
		index('grants_seat').on(t.seatOf)
	]
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
		firstJoinedAt: instant('first_joined_at').notNull(),
		isSetByHand: boolean('is_set_by_hand').notNull().default(false)
	},
	(t) => [unique('tenures_once').on(t.memberId, t.planId)]
);

/** Versions from before changes were kept: whole sources. Read for the past only. */
export const policyVersions = mysqlTable('policy_versions', {
	version: bigint('version', { mode: 'number' }).autoincrement().primaryKey(),
	at: instant('at').notNull(),
	cause: varchar('cause', { length: 60 }).notNull(),
	source: json<PolicySource>()('source').notNull()
});

/** What each version of the policy changed. Rows are never changed (a trigger refuses it). */
export const policyChanges = mysqlTable(
	'policy_changes',
	{
		/** One more than the one before, given under the lock of `rights_counter`. */
		version: bigint('version', { mode: 'number' }).primaryKey(),
		/** By the business clock, like everything that decisions are taken for. */
		at: instant('at').notNull(),
		cause: varchar('cause', { length: 60 }).notNull(),
		/** `null`: Stile itself. */
		actorId: uuid('actor_id'),
		delta: json<Delta>()('delta').notNull()
	},
	(t) => [index('policy_changes_at').on(t.at)]
);

/** Now and then the whole policy, gzipped, in pieces that fit into a packet: whoever starts reads on from there. */
export const policyBases = mysqlTable(
	'policy_bases',
	{
		version: bigint('version', { mode: 'number' }).notNull(),
		part: int('part').notNull(),
		at: instant('at').notNull(),
		bytes: blob('bytes').notNull()
	},
	(t) => [primaryKey({ columns: [t.version, t.part] })]
);

/** One row, locked last and briefly by whoever changes the policy: its number of versions. */
export const rightsCounter = mysqlTable('rights_counter', {
	id: int('id').primaryKey(),
	value: bigint('value', { mode: 'number' }).notNull()
});

/** What changed, for nodes to forget what they remember of it. Nobody waits for anybody: numbers may commit out of order. */
export const rightsChanges = mysqlTable(
	'rights_changes',
	{
		id: bigint('id', { mode: 'number' }).autoincrement().primaryKey(),
		kind: varchar('kind', { length: 10 }).$type<RightsChange>().notNull(),
		/** Whose standing, for `standing`. */
		memberId: uuid('member_id'),
		/** By the wall clock. */
		at: instant('at').notNull()
	},
	(t) => [index('rights_changes_at').on(t.at)]
);
export type RightsChange = 'standing' | 'policy' | 'content' | 'devices';

/** What a save would do, kept until somebody says yes to it. */
export const rehearsals = mysqlTable(
	'rehearsals',
	{
		id: id(),
		/** By the wall clock. */
		at: instant('at').notNull(),
		/** The policy that it was worked out against. */
		version: bigint('version', { mode: 'number' }).notNull(),
		/** SHA-256 of the change, in hex. */
		digest: char('digest', { length: 64 }).notNull(),
		/** The moment that instants of the change were taken from; ids are made from the rehearsal's own. */
		mintedAt: instant('minted_at').notNull(),
		/** Gzipped; `null` where it was too large to keep. */
		result: blob('result')
	},
	(t) => [index('rehearsals_at').on(t.at)]
);
