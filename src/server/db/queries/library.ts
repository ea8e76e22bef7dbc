import { and, desc, eq, inArray, like, or, sql } from 'drizzle-orm';
import type { Handle } from '../connect';
import { assets, items, placements } from '../schema/library';
import { jobs } from '../schema/running';

export type Item = typeof items.$inferSelect;
export type Asset = typeof assets.$inferSelect;

export async function itemById(db: Handle, id: string): Promise<Item | null> {
	const [row] = await db.select().from(items).where(eq(items.id, id));
	return row ?? null;
}

export async function assetById(db: Handle, id: string): Promise<Asset | null> {
	const [row] = await db.select().from(assets).where(eq(assets.id, id));
	return row ?? null;
}

/** The asset that an item shows. */
export async function assetOfItem(db: Handle, itemId: string): Promise<Asset | null> {
	const [row] = await db
		.select({ asset: assets })
		.from(placements)
		.innerJoin(assets, eq(assets.id, placements.assetId))
		.where(eq(placements.itemId, itemId));
	return row?.asset ?? null;
}

export async function itemsByIds(db: Handle, ids: readonly string[]): Promise<Item[]> {
	return ids.length === 0
		? []
		: db
				.select()
				.from(items)
				.where(inArray(items.id, [...ids]));
}

/** For the Desk's list: newest first. */
export async function libraryList(db: Handle, search: string, limit: number) {
	return db
		.select({ item: items, asset: assets })
		.from(items)
		.leftJoin(placements, eq(placements.itemId, items.id))
		.leftJoin(assets, eq(assets.id, placements.assetId))
		.where(
			search === ''
				? undefined
				: or(like(items.title, containing(search)), like(items.address, containing(search)))
		)
		.orderBy(desc(items.createdAt), desc(items.id))
		.limit(limit);
}

/** For the front: what is published, oldest first, with the length of what it shows. */
export async function publishedList(db: Handle, limit: number) {
	return db
		.select({ item: items, seconds: assets.seconds })
		.from(items)
		.leftJoin(placements, eq(placements.itemId, items.id))
		.leftJoin(assets, eq(assets.id, placements.assetId))
		.where(eq(items.state, 'published'))
		.orderBy(items.createdAt, items.id)
		.limit(limit);
}

export async function isAddressTaken(db: Handle, address: string, exceptId: string | null): Promise<boolean> {
	const rows = await db.select({ id: items.id }).from(items).where(eq(items.address, address));
	return rows.some((row) => row.id !== exceptId);
}

/** The job that prepares an asset, newest first. */
export async function preparationOf(db: Handle, assetId: string) {
	const [row] = await db
		.select({ id: jobs.id, state: jobs.state, progress: jobs.progress, problem: jobs.problem })
		.from(jobs)
		.where(and(eq(jobs.subjectId, assetId), eq(jobs.queue, 'media')))
		.orderBy(desc(jobs.createdAt))
		.limit(1);
	return row ?? null;
}

/** `LIKE` for a text that people typed: its own wildcards count as letters. */
export function containing(text: string): string {
	return `%${text.replace(/[\\%_]/g, (c) => '\\' + c)}%`;
}

export async function countItems(db: Handle) {
	const rows = await db
		.select({ state: items.state, count: sql<number>`count(*)`.mapWith(Number) })
		.from(items)
		.groupBy(items.state);
	return {
		all: rows.reduce((sum, row) => sum + row.count, 0),
		published: rows.find((r) => r.state === 'published')?.count ?? 0
	};
}
