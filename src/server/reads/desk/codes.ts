/** Batches of codes and their codes. */
import { asc, count, desc, eq, inArray, sql } from 'drizzle-orm';
import { batchState, BATCH_STATES, type BatchState } from '$core/access/batches';
import type { Using } from '../../app';
import { codeBatches, codes } from '../../db/schema/access';
import { shownPlans } from '../../rights/shown';

/** How often a code was redeemed, or took something off an order that was paid. Names with their tables: it looks into another one. */
const usesOfCode = sql<number>`codes.uses + (select count(*) from orders where orders.code_id = codes.id and orders.state = 'paid')`;

async function allBatches(app: Using<'db'>) {
	return app.db
		.select({
			batch: codeBatches,
			codes: count(codes.id),
			uses: sql<number>`coalesce(sum(${usesOfCode}), 0)`.mapWith(Number)
		})
		.from(codeBatches)
		.leftJoin(codes, eq(codes.batchId, codeBatches.id))
		.groupBy(codeBatches.id)
		.orderBy(desc(codeBatches.createdAt));
}

export interface CodesAsk {
	search: string;
	/** Those that give it; `off`: that take something off; `none`: that open fences; `null`: all. */
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
		({ name, planId, discount, state }) =>
			name.toLowerCase().includes(ask.search.toLowerCase()) &&
			(ask.gives === null || whatOf(planId, discount) === ask.gives) &&
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

function whatOf(planId: string | null, discount: unknown): string {
	return discount ? 'off' : (planId ?? 'none');
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
		.select({
			...{ batch: codeBatches.name, batchId: codes.batchId },
			...{ code: codes.code, uses: usesOfCode.mapWith(Number) }
		})
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
		.select({ code: codes.code, uses: usesOfCode.mapWith(Number) })
		.from(codes)
		.where(eq(codes.batchId, batchId))
		.orderBy(asc(codes.id));
	return most === null ? all : all.limit(most);
}

const SHOWN = 200;

/** One batch and the first of its codes; `null`: there is none. */
export async function batchPage(app: Using<'clock' | 'db' | 'rights'>, id: string) {
	const found = (await allBatches(app)).find(({ batch }) => batch.id === id);
	if (!found) return null;
	const { offPlans } = found.batch;
	return {
		batch: found.batch,
		state: batchState({ ...found.batch, ...found }, app.clock.business()),
		total: found.codes,
		codes: await codesOf(app, id, SHOWN),
		offPlans: (await shownPlans(app)).filter((plan) => offPlans?.includes(plan.id)).map(({ name }) => name),
		path: await batchPath(app, id)
	};
}

/** Where the codes of each batch are put in: the path that a link carries one to. */
export async function batchPaths(app: Using<'db' | 'rights'>): Promise<Map<string, string>> {
	const { id, discount, offPlans } = codeBatches;
	const batches = await app.db.select({ id, discount, offPlans }).from(codeBatches);
	const slugs = new Map((await shownPlans(app)).map((plan) => [plan.id, plan.slug]));
	return new Map(batches.map((batch) => [batch.id, pathOf(batch, slugs)]));
}

export async function batchPath(app: Using<'db' | 'rights'>, batchId: string): Promise<string> {
	return (await batchPaths(app)).get(batchId) ?? '/code';
}

function pathOf(
	{ discount, offPlans }: Pick<typeof codeBatches.$inferSelect, 'discount' | 'offPlans'>,
	slugs: ReadonlyMap<string, string>
): string {
	if (!discount) return '/code';
	const [only, ...more] = offPlans ?? [];
	const slug = only === undefined || more.length > 0 ? undefined : slugs.get(only);
	return slug === undefined ? '/plans' : `/checkout/${slug}`;
}
