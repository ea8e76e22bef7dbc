/** Batches of codes and their codes. */
import { asc, count, desc, eq, sql } from 'drizzle-orm';
import type { Using } from '../../app';
import { codeBatches, codes } from '../../db/schema/access';

export async function allBatches(app: Using<'db'>) {
	return app.db
		.select({
			batch: codeBatches,
			codes: count(codes.id),
			uses: sql<number>`coalesce(sum(${codes.uses}), 0)`.mapWith(Number)
		})
		.from(codeBatches)
		.leftJoin(codes, eq(codes.batchId, codeBatches.id))
		.groupBy(codeBatches.id)
		.orderBy(desc(codeBatches.createdAt));
}

/** What batches are called, newest first. */
export async function batchNames(app: Using<'db'>): Promise<{ id: string; name: string }[]> {
	return app.db
		.select({ id: codeBatches.id, name: codeBatches.name })
		.from(codeBatches)
		.orderBy(desc(codeBatches.createdAt));
}

/** In the order in which they were made; the first `most` of them. */
export async function codesOf(app: Using<'db'>, batchId: string, most: number | null = null) {
	const all = app.db
		.select({ code: codes.code, uses: codes.uses })
		.from(codes)
		.where(eq(codes.batchId, batchId))
		.orderBy(asc(codes.id));
	return most === null ? all : all.limit(most);
}
