import { bigint, boolean, index, int, mysqlTable, text, unique, varchar } from 'drizzle-orm/mysql-core';
import type { ItemKind, ItemState } from '../../../core/access/model';
import type { PreparedStream } from '../../../core/media/stream';
import { exactText, id, instant, json, uuid } from './types';

export const items = mysqlTable('items', {
	id: id(),
	kind: varchar('kind', { length: 10 }).$type<ItemKind>().notNull(),
	title: varchar('title', { length: 200 }).notNull(),
	description: text('description').notNull(),
	/** Normalised path. */
	address: exactText('address', 700).notNull().unique(),
	state: varchar('state', { length: 10 }).$type<ItemState>().notNull(),
	publishAt: instant('publish_at'),
	base: varchar('base', { length: 6 }).$type<'open' | 'closed'>().notNull(),
	/** The one place the item lives in; collections arrive with their own stages. */
	homeId: uuid('home_id'),
	/** Whether those who are turned away see the poster. */
	showsPoster: boolean('shows_poster').notNull(),
	createdAt: instant('created_at').notNull(),
	changedAt: instant('changed_at').notNull()
});

export type AssetState = 'waiting' | 'preparing' | 'ready' | 'failed';

/** Bytes without an address. */
export const assets = mysqlTable('assets', {
	id: id(),
	kind: varchar('kind', { length: 10 }).$type<'video'>().notNull(),
	/** As the uploader named it, cleaned for display; never used as a path. */
	fileName: varchar('file_name', { length: 255 }).notNull(),
	/** Where the original lies in storage: never public. */
	originalKey: varchar('original_key', { length: 200 }).notNull(),
	bytes: bigint('bytes', { mode: 'number' }).notNull(),
	seconds: int('seconds').notNull(),
	width: int('width').notNull(),
	height: int('height').notNull(),
	hasSound: boolean('has_sound').notNull(),
	state: varchar('state', { length: 10 }).$type<AssetState>().notNull(),
	/** What went wrong, for people. */
	problem: varchar('problem', { length: 500 }),
	/** Counts preparations: segments, keys and secret belong to one version. */
	version: int('version').notNull().default(0),
	stream: json<PreparedStream>()('stream'),
	/** The version's random secret, wrapped by the master key that `secretKeyId` names. */
	wrappedSecret: varchar('wrapped_secret', { length: 200 }),
	secretKeyId: varchar('secret_key_id', { length: 40 }),
	createdAt: instant('created_at').notNull()
});

/** An item shows an asset. */
export const placements = mysqlTable(
	'placements',
	{
		id: id(),
		itemId: uuid('item_id')
			.notNull()
			.references(() => items.id),
		assetId: uuid('asset_id')
			.notNull()
			.references(() => assets.id)
	},
	(t) => [unique('placements_once').on(t.itemId, t.assetId), index('placements_asset').on(t.assetId)]
);
