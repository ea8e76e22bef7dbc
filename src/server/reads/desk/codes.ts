/** Batches of codes and their codes. */
import { asc, count, desc, eq, inArray, sql } from 'drizzle-orm';
import { batchState, BATCH_STATES, type BatchState } from '$core/access/batches';
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

export interface CodesAsk {
	search: string;
	/** Those that give it; `none`: those that open fences by themselves; `null`: all. */
	gives: string | null;
	state: BatchState | null;
	order: string;
	page: number;
}

const PAGE_SIZE = 50;

/** The list of batches, narrowed and in order; and how many there are in each state, whatever else is asked. */
export async function codesPage(app: Using<'clock' | 'db'>, ask: CodesAsk) {
	const now = app.clock.business();
	const all = (await allBatches(app)).map(({ batch, codes, uses }) => ({
		...batch,
		codes,
		uses,
		state: batchState({ ...batch, codes, uses }, now)
	}));
	const found = all.filter(
		({ name, planId, state }) =>
			name.toLowerCase().includes(ask.search.toLowerCase()) &&
			(ask.gives === null || (planId ?? 'none') === ask.gives) &&
			(ask.state === null || state === ask.state)
	);
	const key = ask.order.replace(/^-/, '');
	const by = Object.hasOwn(ORDERS, key) ? ORDERS[key as keyof typeof ORDERS] : null;
	if (by) found.sort(by);
	if (by && ask.order.startsWith('-')) found.reverse();
	return {
		total: found.length,
		pageSize: PAGE_SIZE,
		rows: found.slice((ask.page - 1) * PAGE_SIZE, ask.page * PAGE_SIZE),
		totals: {
			codes: all.reduce((sum, one) => sum + one.codes, 0),
			uses: all.reduce((sum, one) => sum + one.uses, 0),
			states: Object.fromEntries(
				BATCH_STATES.map((state) => [state, all.filter((one) => one.state === state).length])
			) as Record<BatchState, number>
		}
	};
}

interface Counted {
	name: string;
	codes: number;
	uses: number;
	endsAt: number | null;
}

const ORDERS = {
	name: (a: Counted, b: Counted) => a.name.localeCompare(b.name, 'en', { numeric: true }),
	codes: (a: Counted, b: Counted) => a.codes - b.codes,
	uses: (a: Counted, b: Counted) => a.uses - b.uses,
	// Those without an end come last.
	ends: (a: Counted, b: Counted) => (a.endsAt ?? Infinity) - (b.endsAt ?? Infinity) || 0
};

/** All codes of some batches, with what their batch is called. */
export async function codesOfBatches(app: Using<'db'>, batchIds: readonly string[]) {
	if (batchIds.length === 0) return [];
	return app.db
		.select({ batch: codeBatches.name, code: codes.code, uses: codes.uses })
		.from(codes)
		.innerJoin(codeBatches, eq(codeBatches.id, codes.batchId))
		.where(inArray(codes.batchId, [...batchIds]))
		.orderBy(asc(codes.batchId), asc(codes.id));
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
