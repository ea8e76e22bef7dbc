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
import { OWN_SITE_ID, type ItemState, type ResourceKind } from '../../../core/access/model';
import type { RichText } from '../../../core/text/rich-text';
import type { Cue } from '../../../core/media/captions';
import type { Chapter } from '../../../core/media/chapters';
import type { OwnDeterrents } from '../../../core/media/deterrents';
import type { MediaFacts } from '../../../core/media/facts';
import type { WayOfWatching } from '../../../core/media/way';
import type { PreparedStream } from '../../../core/media/stream';
import { exactText, id, instant, json, uuid } from './types';

/** Whatever has addresses of its own: the site of Stile, and sites outside it. */
export const sites = mysqlTable('sites', {
	id: id(),
	name: varchar('name', { length: 120 }).notNull(),
	/** Such as `https://school.example`; `null`: Stile's own. */
	origin: exactText('origin', 300).unique()
});

/** Items and the collections they live in: what is decided by. What they are called and show stands beside it. */
export const items = mysqlTable(
	'items',
	{
		id: id(),
		kind: varchar('kind', { length: 10 }).$type<ResourceKind>().notNull(),
		state: varchar('state', { length: 10 }).$type<ItemState>().notNull(),
		publishAt: instant('publish_at'),
		base: varchar('base', { length: 6 }).$type<'open' | 'closed'>().notNull(),
		siteId: uuid('site_id')
			.notNull()
			.default(OWN_SITE_ID)
			.references(() => sites.id),
		/** Normalised path on the site; `null` for a section, which has no page. */
		address: exactText('address', 700),
		/** The one section, course, show, shelf or parent page it lives in. */
		homeId: uuid('home_id'),
		/** Order within the home. */
		position: int('position').notNull().default(0),
		categoryId: uuid('category_id'),
		/** Of a file's name, in lower case. */
		extension: varchar('extension', { length: 16 }),
		/** The member of staff whose it is; `null`: the publisher's. */
		ownerId: uuid('owner_id'),
		/** BCP 47: the language of its texts as they were first written. */
		language: varchar('language', { length: 35 }).notNull().default('en'),
		/** Counts what was changed of it. */
		revision: int('revision').notNull().default(1),
		createdAt: instant('created_at').notNull(),
		changedAt: instant('changed_at').notNull()
	},
	(t) => [
		unique('items_site_address').on(t.siteId, t.address),
		index('items_home').on(t.homeId, t.position),
		index('items_category').on(t.categoryId),
		index('items_created').on(t.createdAt),
		index('items_state').on(t.state)
	]
);

const itemId = () =>
	uuid('item_id')
		.notNull()
		.references(() => items.id, { onDelete: 'cascade' });

export type TextField = 'title' | 'text';

/** What an item is called and says, in each language that there is. */
export const itemTexts = mysqlTable(
	'item_texts',
	{
		itemId: itemId(),
		/** BCP 47. */
		language: varchar('language', { length: 35 }).notNull(),
		field: varchar('field', { length: 10 }).$type<TextField>().notNull(),
		/** Without form: what it is found by. */
		plain: text('plain').notNull(),
		/** As it is laid out; `null` where it is plain. */
		blocks: json<RichText>()('blocks')
	},
	(t) => [primaryKey({ columns: [t.itemId, t.language, t.field] })]
);

/** What stands for an item in lists. */
export const itemPictures = mysqlTable('item_pictures', {
	itemId: itemId().primaryKey(),
	/** A picture of its own, in storage. */
	coverKey: varchar('cover_key', { length: 200 }),
	/** Whether those who are turned away see it. */
	isShownToAll: boolean('is_shown_to_all').notNull()
});

/** Of links: where they lead. */
export const linkItems = mysqlTable('link_items', {
	itemId: itemId().primaryKey(),
	target: varchar('target', { length: 2000 }),
	/** Whether it opens in a frame of the page, rather than as a page of its own. */
	opensHere: boolean('opens_here').notNull().default(false)
});

/** Of files: whether one that browsers can show is shown, rather than saved. */
export const fileItems = mysqlTable('file_items', {
	itemId: itemId().primaryKey(),
	opensHere: boolean('opens_here').notNull()
});

/** Of what is watched otherwise than in the usual way. */
export const itemWays = mysqlTable('item_ways', {
	itemId: itemId().primaryKey(),
	wayId: uuid('way_id').notNull()
});

/** Of what differs from the site in how it is kept from being passed on. */
export const itemDeterrents = mysqlTable('item_deterrents', {
	itemId: itemId().primaryKey(),
	deterrents: json<OwnDeterrents>()('deterrents').notNull()
});

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

export type AssetKind = 'video' | 'audio' | 'file';

/** Bytes that lie elsewhere: in the object store, or at an address that stays hidden. */
export type AssetSource = { kind: 'bucket'; key: string } | { kind: 'outside'; url: string };

/** Bytes without an address. */
export const assets = mysqlTable('assets', {
	id: id(),
	kind: varchar('kind', { length: 10 }).$type<AssetKind>().notNull(),
	/** As the uploader named it, cleaned for display; never used as a path. */
	fileName: varchar('file_name', { length: 255 }).notNull(),
	/** As its content says, whatever its name. */
	mediaType: varchar('media_type', { length: 120 }).notNull().default('application/octet-stream'),
	/** `null`: in storage, under `originalKey`. */
	source: json<AssetSource>()('source'),
	/** What was read from the file. */
	facts: json<MediaFacts>()('facts'),
	chapters: json<Chapter[]>()('chapters'),
	/** A second of the film that stands for it; `null`: chosen by Stile. */
	posterSeconds: int('poster_seconds'),
	/** Whether sound is brought to the usual loudness. */
	isLevelled: boolean('is_levelled').notNull().default(false),
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

export type PlacementState = 'coming' | 'shown' | 'replaced';

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
			.references(() => assets.id),
		/** Old versions are kept; new content comes when it is prepared. */
		state: varchar('state', { length: 10 }).$type<PlacementState>().notNull().default('shown'),
		/** When other content took its place. */
		replacedAt: instant('replaced_at')
	},
	(t) => [
		unique('placements_once').on(t.itemId, t.assetId),
		index('placements_asset').on(t.assetId),
		index('placements_state').on(t.state)
	]
);

/** What is said in a film or recording, in one language. */
export const captions = mysqlTable(
	'captions',
	{
		id: id(),
		assetId: uuid('asset_id')
			.notNull()
			.references(() => assets.id),
		/** BCP 47. */
		language: varchar('language', { length: 35 }).notNull(),
		label: varchar('label', { length: 80 }).notNull(),
		cues: json<Cue[]>()('cues').notNull(),
		changedAt: instant('changed_at').notNull()
	},
	(t) => [unique('captions_once').on(t.assetId, t.language)]
);

export const waysOfWatching = mysqlTable('ways_of_watching', {
	id: id(),
	name: varchar('name', { length: 80 }).notNull(),
	isDefault: boolean('is_default').notNull(),
	way: json<WayOfWatching>()('way').notNull()
});

/** Where a member was in a film, for any device. */
export const positions = mysqlTable(
	'positions',
	{
		memberId: uuid('member_id').notNull(),
		itemId: uuid('item_id')
			.notNull()
			.references(() => items.id, { onDelete: 'cascade' }),
		seconds: int('seconds').notNull(),
		changedAt: instant('changed_at').notNull()
	},
	(t) => [primaryKey({ columns: [t.memberId, t.itemId] })]
);
