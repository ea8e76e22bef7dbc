import {
	bigint,
	boolean,
	index,
	int,
	mysqlTable,
	primaryKey,
	text,
	unique,
	varchar
} from 'drizzle-orm/mysql-core';
import type { ItemState, ResourceKind } from '../../../core/access/model';
import type { PreparedStream } from '../../../core/media/stream';
import { exactText, id, instant, json, uuid } from './types';

/** Items and the collections they live in. */
export const items = mysqlTable(
	'items',
	{
		id: id(),
		kind: varchar('kind', { length: 10 }).$type<ResourceKind>().notNull(),
		title: varchar('title', { length: 200 }).notNull(),
		description: text('description').notNull(),
		/** Normalised path; `null` for a section, which has no page. */
		address: exactText('address', 700).unique(),
		state: varchar('state', { length: 10 }).$type<ItemState>().notNull(),
		publishAt: instant('publish_at'),
		base: varchar('base', { length: 6 }).$type<'open' | 'closed'>().notNull(),
		/** The one section, course, show, shelf or parent page it lives in. */
		homeId: uuid('home_id'),
		/** Order within the home. */
		position: int('position').notNull().default(0),
		categoryId: uuid('category_id'),
		/** Of a file's name, in lower case. */
		extension: varchar('extension', { length: 16 }),
		/** Where something hosted elsewhere is found. */
		target: varchar('target', { length: 2000 }),
		/** Whether those who are turned away see the poster. */
		showsPoster: boolean('shows_poster').notNull(),
		createdAt: instant('created_at').notNull(),
		changedAt: instant('changed_at').notNull()
	},
	(t) => [
		index('items_home').on(t.homeId, t.position),
		index('items_category').on(t.categoryId),
		index('items_created').on(t.createdAt)
	]
);

export const categories = mysqlTable('categories', {
	id: id(),
	name: varchar('name', { length: 120 }).notNull(),
	slug: exactText('slug', 80).notNull().unique()
});

export const tags = mysqlTable('tags', {
	id: id(),
	name: varchar('name', { length: 120 }).notNull(),
	slug: exactText('slug', 80).notNull().unique()
});

export const itemTags = mysqlTable(
	'item_tags',
	{
		itemId: uuid('item_id')
			.notNull()
			.references(() => items.id, { onDelete: 'cascade' }),
		tagId: uuid('tag_id')
			.notNull()
			.references(() => tags.id, { onDelete: 'cascade' })
	},
	(t) => [primaryKey({ columns: [t.itemId, t.tagId] }), index('item_tags_tag').on(t.tagId)]
);

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
