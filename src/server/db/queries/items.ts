/** Items with their texts and what their kinds have beside them: one row for readers, several tables for whoever writes. */
import { and, eq, inArray, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/mysql-core';
import type { OwnDeterrents } from '$core/media/deterrents';
import type { ResourceKind } from '$core/access/model';
import type { RichText } from '$core/text/rich-text';
import type { Handle, Tx } from '../connect';
import {
	fileItems,
	itemDeterrents,
	itemPictures,
	itemWays,
	items,
	itemTexts,
	linkItems,
	type TextField
} from '../schema/library';
import { siteSettings } from './settings';

/** Beside `items`: what each is called, in the language that it was written in. */
export const titles = alias(itemTexts, 'titles');
export const ofTitle = and(
	eq(titles.itemId, items.id),
	eq(titles.language, items.language),
	eq(titles.field, 'title')
);

const texts = alias(itemTexts, 'texts');
const ofText = and(eq(texts.itemId, items.id), eq(texts.language, items.language), eq(texts.field, 'text'));

export const ITEM = {
	id: items.id,
	kind: items.kind,
	state: items.state,
	publishAt: items.publishAt,
	base: items.base,
	address: items.address,
	homeId: items.homeId,
	position: items.position,
	categoryId: items.categoryId,
	extension: items.extension,
	createdAt: items.createdAt,
	changedAt: items.changedAt,
	title: titles.plain,
	/** Without form. */
	description: texts.plain,
	/** As it is laid out; `null` where it is plain. */
	body: texts.blocks,
	coverKey: itemPictures.coverKey,
	showsPoster: itemPictures.isShownToAll,
	target: linkItems.target,
	opensInBrowser: sql<boolean>`coalesce(${linkItems.opensHere}, ${fileItems.opensHere}, false)`.mapWith(
		Boolean
	),
	wayId: itemWays.wayId,
	deterrents: itemDeterrents.deterrents
};

/** Items as whole rows; what is asked of them comes behind it. */
export function selectItems(db: Handle) {
	return db
		.select(ITEM)
		.from(items)
		.innerJoin(titles, ofTitle)
		.innerJoin(texts, ofText)
		.innerJoin(itemPictures, eq(itemPictures.itemId, items.id))
		.leftJoin(linkItems, eq(linkItems.itemId, items.id))
		.leftJoin(fileItems, eq(fileItems.itemId, items.id))
		.leftJoin(itemWays, eq(itemWays.itemId, items.id))
		.leftJoin(itemDeterrents, eq(itemDeterrents.itemId, items.id));
}

export type Item = Awaited<ReturnType<typeof selectItems>>[number];

export async function itemById(db: Handle, id: string): Promise<Item | null> {
	const [row] = await selectItems(db).where(eq(items.id, id));
	return row ?? null;
}

/** The same, and until the transaction ends nobody else changes it. */
export async function lockItem(tx: Tx, id: string): Promise<Item | null> {
	await tx.select({ id: items.id }).from(items).where(eq(items.id, id)).for('update');
	return itemById(tx, id);
}

/** What lives right in a home, in order; until the transaction ends nobody else moves it. */
export async function livingIn(tx: Tx, homeId: string): Promise<{ id: string; position: number }[]> {
	return tx
		.select({ id: items.id, position: items.position })
		.from(items)
		.where(eq(items.homeId, homeId))
		.orderBy(items.position, items.createdAt, items.id)
		.for('update');
}

const POSITIONS_AT_ONCE = 500;

/** Where they stand is no change of what they are. */
export async function writePositions(
	tx: Tx,
	places: readonly { id: string; position: number }[]
): Promise<void> {
	for (let n = 0; n < places.length; n += POSITIONS_AT_ONCE) {
		const some = places.slice(n, n + POSITIONS_AT_ONCE);
		const cases = some.map(({ id, position }) => sql`when ${id} then ${position}`);
		await tx
			.update(items)
			.set({ position: sql`case ${items.id} ${sql.join(cases, sql` `)} end` })
			.where(
				inArray(
					items.id,
					some.map(({ id }) => id)
				)
			);
	}
}

export async function itemsByIds(db: Handle, ids: readonly string[]): Promise<Item[]> {
	if (ids.length === 0) return [];
	return selectItems(db).where(inArray(items.id, [...ids]));
}

type Row = typeof items.$inferInsert;
type Decided = Omit<Row, 'id' | 'kind' | 'language' | 'revision' | 'createdAt' | 'changedAt'>;

/** What an item has beside the facts that are decided by. */
export interface Shown {
	title: string;
	description: string;
	body: RichText | null;
	showsPoster: boolean;
	coverKey: string | null;
	target: string | null;
	opensInBrowser: boolean;
	wayId: string | null;
	deterrents: OwnDeterrents | null;
}

export type NewItem = Decided &
	Partial<Shown> & { id: string; kind: ResourceKind; title: string; createdAt: number };

const AT_ONCE = 200;

/** In the language of the site. */
export async function insertItems(tx: Tx, made: readonly NewItem[]): Promise<void> {
	if (made.length === 0) return;
	const { language } = await siteSettings(tx);
	for (let n = 0; n < made.length; n += AT_ONCE) await insertSome(tx, made.slice(n, n + AT_ONCE), language);
}

async function insertSome(tx: Tx, made: readonly NewItem[], language: string): Promise<void> {
	await tx.insert(items).values(
		made.map((one) => ({
			...decidedOf(one),
			id: one.id,
			kind: one.kind,
			state: one.state,
			base: one.base,
			language,
			createdAt: one.createdAt,
			changedAt: one.createdAt
		}))
	);
	await tx.insert(itemTexts).values(
		made.flatMap(({ id: itemId, title, description = '', body = null }) => [
			{ itemId, language, field: 'title' as const, plain: title, blocks: null },
			{ itemId, language, field: 'text' as const, plain: description, blocks: body }
		])
	);
	await tx.insert(itemPictures).values(
		made.map(({ id: itemId, coverKey = null, showsPoster = false }) => ({
			itemId,
			coverKey,
			isShownToAll: showsPoster
		}))
	);
	for (const one of made) await writeOfKind(tx, one, one);
}

const DECIDED = [
	'state',
	'publishAt',
	'base',
	'siteId',
	'address',
	'homeId',
	'position',
	'categoryId',
	'extension',
	'ownerId'
] as const satisfies readonly (keyof Decided)[];

/** What of it stands in the table that is decided by. */
function decidedOf<T extends Partial<Decided>>(one: T): Partial<Decided> {
	return Object.fromEntries(DECIDED.filter((key) => one[key] !== undefined).map((key) => [key, one[key]]));
}

/** Writes what is given of an item, and leaves the rest. */
export async function updateItem(
	tx: Tx,
	{ id, kind }: { id: string; kind: ResourceKind },
	change: Partial<Decided & Shown>,
	now: number
): Promise<void> {
	await tx
		.update(items)
		.set({ ...decidedOf(change), revision: sql`${items.revision} + 1`, changedAt: now })
		.where(eq(items.id, id));
	const { title, description, body, coverKey, showsPoster } = change;
	await updateText(tx, id, 'title', { plain: title });
	await updateText(tx, id, 'text', { plain: description, blocks: body });
	if (coverKey !== undefined || showsPoster !== undefined)
		await tx
			.update(itemPictures)
			.set({ coverKey, isShownToAll: showsPoster })
			.where(eq(itemPictures.itemId, id));
	await writeOfKind(tx, { id, kind }, change);
}

async function updateText(
	tx: Tx,
	itemId: string,
	field: TextField,
	{ plain, blocks }: { plain?: string | undefined; blocks?: RichText | null | undefined }
): Promise<void> {
	if (plain === undefined && blocks === undefined) return;
	await tx
		.update(itemTexts)
		.set({ plain, blocks })
		.where(
			and(
				eq(itemTexts.itemId, itemId),
				eq(itemTexts.field, field),
				eq(itemTexts.language, sql`(select language from items where id = ${itemId})`)
			)
		);
}

/** What only one kind has, and what only those have a row for that differ. */
async function writeOfKind(
	tx: Tx,
	{ id: itemId, kind }: { id: string; kind: ResourceKind },
	{ target, opensInBrowser, wayId, deterrents }: Partial<Shown>
): Promise<void> {
	if (kind === 'link' && (target !== undefined || opensInBrowser !== undefined)) {
		const set = { target, opensHere: opensInBrowser };
		await tx
			.insert(linkItems)
			.values({ itemId, ...set })
			.onDuplicateKeyUpdate({ set: { itemId, ...set } });
	}
	if (kind !== 'link' && opensInBrowser !== undefined) {
		const set = { opensHere: opensInBrowser };
		await tx
			.insert(fileItems)
			.values({ itemId, ...set })
			.onDuplicateKeyUpdate({ set });
	}
	if (wayId === null) await tx.delete(itemWays).where(eq(itemWays.itemId, itemId));
	else if (wayId !== undefined)
		await tx.insert(itemWays).values({ itemId, wayId }).onDuplicateKeyUpdate({ set: { wayId } });
	if (deterrents === null) await tx.delete(itemDeterrents).where(eq(itemDeterrents.itemId, itemId));
	else if (deterrents !== undefined)
		await tx
			.insert(itemDeterrents)
			.values({ itemId, deterrents })
			.onDuplicateKeyUpdate({ set: { deterrents } });
}
