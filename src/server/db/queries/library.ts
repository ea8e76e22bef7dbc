import { and, desc, eq, inArray, isNotNull, like, max, ne, or, sql, type SQL } from 'drizzle-orm';
import type { OwnDeterrents } from '$core/media/deterrents';
import { USUAL_WAY, type WayOfWatching } from '$core/media/way';
import { OWN_SITE_ID } from '$core/access/model';
import type { Handle } from '../connect';
import {
	assets,
	captions,
	categories,
	itemDeterrents,
	itemPictures,
	items,
	itemTags,
	itemTexts,
	placements,
	waysOfWatching,
	tags,
	type PlacementState
} from '../schema/library';
import { ofTitle, titles, type Item } from './items';
import { jobs } from '../schema/running';

export type Asset = typeof assets.$inferSelect;
/** A category or a tag. */
export type Category = typeof categories.$inferSelect;

/** The newest wrapped secret under each master key. */
export async function newestSecrets(db: Handle): Promise<{ keyId: string; wrapped: string }[]> {
	const newest = db
		.select({ id: max(assets.id).as('newest') })
		.from(assets)
		.where(isNotNull(assets.wrappedSecret))
		.groupBy(assets.secretKeyId)
		.as('newest_of_key');
	const rows = await db
		.select({ keyId: assets.secretKeyId, wrapped: assets.wrappedSecret })
		.from(assets)
		.innerJoin(newest, eq(newest.id, assets.id));
	return rows.flatMap(({ keyId, wrapped }) => (keyId && wrapped ? [{ keyId, wrapped }] : []));
}

export async function assetById(db: Handle, id: string): Promise<Asset | null> {
	const [row] = await db.select().from(assets).where(eq(assets.id, id));
	return row ?? null;
}

/** The placement that counts: what it was before is kept, and not shown. */
const isShown = and(eq(placements.itemId, items.id), eq(placements.state, 'shown'));

/** The asset that an item shows. */
export function assetOfItem(db: Handle, itemId: string): Promise<Asset | null> {
	return placedAsset(db, itemId, 'shown');
}

/** The asset that an item will show when it is prepared. */
export function comingOf(db: Handle, itemId: string): Promise<Asset | null> {
	return placedAsset(db, itemId, 'coming');
}

async function placedAsset(db: Handle, itemId: string, state: PlacementState): Promise<Asset | null> {
	const [row] = await db
		.select({ asset: assets })
		.from(placements)
		.innerJoin(assets, eq(assets.id, placements.assetId))
		.where(and(eq(placements.itemId, itemId), eq(placements.state, state)));
	return row?.asset ?? null;
}

/** Whether something can stand for it in a list: a picture of its own, or a frame. */
export function hasPicture(item: Pick<Item, 'coverKey'>, asset: Asset | null): boolean {
	return item.coverKey !== null || (asset?.kind === 'video' && asset.stream !== null);
}

export type Captions = typeof captions.$inferSelect;

export async function captionsOfAsset(db: Handle, assetId: string): Promise<Captions[]> {
	return db.select().from(captions).where(eq(captions.assetId, assetId)).orderBy(captions.label);
}

/** Items, beside one, that show an asset. */
export async function itemsShowing(db: Handle, assetId: string, exceptId: string) {
	return db
		.select({ id: items.id, title: titles.plain })
		.from(items)
		.innerJoin(titles, ofTitle)
		.innerJoin(placements, isShown)
		.where(and(eq(placements.assetId, assetId), ne(items.id, exceptId)))
		.orderBy(items.id);
}

/** What an item shows, has shown and will show, newest first. */
export async function versionsOfItem(db: Handle, itemId: string) {
	return db
		.select({
			assetId: assets.id,
			fileName: assets.fileName,
			bytes: assets.bytes,
			createdAt: assets.createdAt,
			kind: assets.kind,
			isPrepared: sql<boolean>`${assets.stream} is not null`.mapWith(Boolean),
			state: placements.state,
			replacedAt: placements.replacedAt
		})
		.from(placements)
		.innerJoin(assets, eq(assets.id, placements.assetId))
		.where(eq(placements.itemId, itemId))
		.orderBy(desc(assets.createdAt), desc(assets.id));
}

export async function ownDeterrents(db: Handle): Promise<Map<string, OwnDeterrents>> {
	const rows = await db.select().from(itemDeterrents);
	return new Map(rows.map(({ itemId, deterrents }) => [itemId, deterrents]));
}

export interface NamedWay {
	id: string;
	name: string;
	isDefault: boolean;
	way: WayOfWatching;
}

export async function allWays(db: Handle): Promise<NamedWay[]> {
	return db.select().from(waysOfWatching).orderBy(waysOfWatching.name);
}

/** That of the item, or the default one. */
export function wayOf(ways: readonly NamedWay[], id: string | null): WayOfWatching {
	const own = ways.find((one) => one.id === id) ?? ways.find((one) => one.isDefault);
	return own?.way ?? USUAL_WAY;
}

const HAS_PICTURE =
	sql<boolean>`${itemPictures.coverKey} is not null or (${assets.kind} = 'video' and ${assets.stream} is not null)`.mapWith(
		Boolean
	);

/** Everything in the Library, with what lists show of it. */
export async function allRows(db: Handle) {
	return db
		.select({
			id: items.id,
			title: titles.plain,
			kind: items.kind,
			state: items.state,
			publishAt: items.publishAt,
			base: items.base,
			address: items.address,
			homeId: items.homeId,
			position: items.position,
			categoryId: items.categoryId,
			createdAt: items.createdAt,
			changedAt: items.changedAt,
			assetId: assets.id,
			assetState: assets.state,
			seconds: assets.seconds,
			hasPicture: HAS_PICTURE
		})
		.from(items)
		.innerJoin(titles, ofTitle)
		.innerJoin(itemPictures, eq(itemPictures.itemId, items.id))
		.leftJoin(placements, isShown)
		.leftJoin(assets, eq(assets.id, placements.assetId));
}

/** Whatever carries a text in its title, address or description. */
export async function itemsFound(db: Handle, search: string): Promise<Set<string>> {
	const rows = await db.select({ id: items.id }).from(items).where(carrying(db, search));
	return new Set(rows.map(({ id }) => id));
}

/** In whichever language it was written. */
function carrying(db: Handle, search: string): SQL | undefined {
	const wanted = containing(search);
	const saying = db.select({ id: itemTexts.itemId }).from(itemTexts).where(like(itemTexts.plain, wanted));
	return or(like(items.address, wanted), inArray(items.id, saying));
}

/** Titles of everything in the Library, for pickers and for sentences about fences. */
export async function allTitles(db: Handle) {
	return db
		.select({
			id: items.id,
			title: titles.plain,
			kind: items.kind,
			address: items.address,
			homeId: items.homeId,
			position: items.position
		})
		.from(items)
		.innerJoin(titles, ofTitle)
		.orderBy(items.createdAt, items.id);
}

export type LibraryItem = Awaited<ReturnType<typeof allRows>>[number];

export async function isAddressTaken(db: Handle, address: string, exceptId: string | null): Promise<boolean> {
	const rows = await db
		.select({ id: items.id })
		.from(items)
		.where(and(eq(items.siteId, OWN_SITE_ID), eq(items.address, address)));
	return rows.some((row) => row.id !== exceptId);
}

/** The job that prepares an asset, newest first. */
export async function preparationOf(db: Handle, assetId: string) {
	const [row] = await db
		.select({ id: jobs.id, state: jobs.state, progress: jobs.progress, problem: jobs.problem })
		.from(jobs)
		.where(and(eq(jobs.subjectId, assetId), eq(jobs.lane, 'media')))
		.orderBy(desc(jobs.createdAt), desc(jobs.id))
		.limit(1);
	return row ?? null;
}

/** How far each is whose preparation is under way, in percent, by asset. */
export async function progressOf(db: Handle, assetIds: readonly string[]): Promise<Map<string, number>> {
	if (assetIds.length === 0) return new Map();
	const rows = await db
		.select({ assetId: jobs.subjectId, progress: jobs.progress })
		.from(jobs)
		.where(and(inArray(jobs.subjectId, [...assetIds]), eq(jobs.lane, 'media'), eq(jobs.state, 'running')));
	return new Map(rows.flatMap(({ assetId, progress }) => (assetId === null ? [] : [[assetId, progress]])));
}

/** `LIKE` for a text that people typed: its own wildcards count as letters. */
export function containing(text: string): string {
	return `%${text.replace(/[\\%_]/g, (c) => '\\' + c)}%`;
}

export async function allCategories(db: Handle): Promise<Category[]> {
	return db.select().from(categories).orderBy(categories.name);
}

export async function allTags(db: Handle): Promise<Category[]> {
	return db.select().from(tags).orderBy(tags.name);
}

export async function tagsOfItem(db: Handle, itemId: string): Promise<string[]> {
	const rows = await db.select({ tagId: itemTags.tagId }).from(itemTags).where(eq(itemTags.itemId, itemId));
	return rows.map((row) => row.tagId);
}
