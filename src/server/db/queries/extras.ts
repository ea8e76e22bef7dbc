/** What buyers of a plan are offered besides when they have paid. */
import { and, asc, count, eq, inArray, isNull } from 'drizzle-orm';
import type { Handle } from '../connect';
import { extraAnswers, extras, orders, plans, prices } from '../schema/sales';

export type Extra = typeof extras.$inferSelect;

/** Those that stand, in their order, with the plan that each is of. */
export async function extrasOf(
	db: Handle,
	planId: string
): Promise<(Extra & { targetId: string; planName: string })[]> {
	const rows = await db
		.select({ extra: extras, targetId: plans.id, planName: plans.name })
		.from(extras)
		.innerJoin(prices, eq(prices.id, extras.priceId))
		.innerJoin(plans, eq(plans.id, prices.planId))
		.where(and(eq(extras.planId, planId), isNull(extras.endedAt)))
		.orderBy(asc(extras.position), asc(extras.id));
	return rows.map(({ extra, ...of }) => ({ ...extra, ...of }));
}

export async function extraById(db: Handle, id: string): Promise<Extra | null> {
	if (!/^[0-9a-f-]{36}$/.test(id)) return null;
	const [row] = await db.select().from(extras).where(eq(extras.id, id));
	return row ?? null;
}

/** Of which plan a price is. */
export async function planIdOfPrice(db: Handle, priceId: string): Promise<string | null> {
	if (!/^[0-9a-f-]{36}$/.test(priceId)) return null;
	const [row] = await db.select({ planId: prices.planId }).from(prices).where(eq(prices.id, priceId));
	return row?.planId ?? null;
}

/** What was answered after an order, with what became of what was taken. */
export async function answersOf(db: Handle, orderId: string) {
	return db
		.select({ extraId: extraAnswers.extraId, takes: extraAnswers.takes, taken: orders, planName: plans.name })
		.from(extraAnswers)
		.innerJoin(extras, eq(extras.id, extraAnswers.extraId))
		.innerJoin(prices, eq(prices.id, extras.priceId))
		.innerJoin(plans, eq(plans.id, prices.planId))
		.leftJoin(orders, eq(orders.id, extraAnswers.takenId))
		.where(eq(extraAnswers.orderId, orderId))
		.orderBy(asc(extraAnswers.id));
}

/** How often each was answered, and taken: an order was made. */
export async function answerCounts(
	db: Handle,
	ids: readonly string[]
): Promise<Map<string, { asked: number; taken: number }>> {
	if (ids.length === 0) return new Map();
	const rows = await db
		.select({ id: extraAnswers.extraId, asked: count(), taken: count(extraAnswers.takenId) })
		.from(extraAnswers)
		.where(inArray(extraAnswers.extraId, [...ids]))
		.groupBy(extraAnswers.extraId);
	return new Map(rows.map(({ id, asked, taken }) => [id, { asked, taken }]));
}
