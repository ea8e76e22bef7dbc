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
import type { RichText } from '../../../core/text/rich-text';
import type { Cue } from '../../../core/media/captions';
import type { Chapter } from '../../../core/media/chapters';
import type { OwnDeterrents } from '../../../core/media/deterrents';
import type { MediaFacts } from '../../../core/media/facts';
import type { PlayerPreset } from '../../../core/media/preset';
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
		/** `description` as it is laid out; `null` where it is plain. */
		body: json<RichText>()('body'),
		/** A picture of its own, in storage. */
		coverKey: varchar('cover_key', { length: 200 }),
		/** Whether a file that browsers can show is shown, rather than saved. */
		opensInBrowser: boolean('opens_in_browser').notNull().default(false),
		/** `null`: the default one. */
		presetId: uuid('preset_id'),
		/** What differs from the site; `null` for nothing. */
		deterrents: json<OwnDeterrents>()('deterrents'),
		createdAt: instant('created_at').notNull(),
		changedAt: instant('changed_at').notNull()
	},
	(t) => [
		index('items_home').on(t.homeId, t.position),
		index('items_category').on(t.categoryId),
		index('items_created').on(t.createdAt),
		index('items_state').on(t.state)
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

export const playerPresets = mysqlTable('player_presets', {
	id: id(),
	name: varchar('name', { length: 80 }).notNull(),
	isDefault: boolean('is_default').notNull(),
	preset: json<PlayerPreset>()('preset').notNull()
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
