/** Who waits until a plan is sold. */
import { and, asc, count, eq, inArray, isNull } from 'drizzle-orm';
import type { Handle, Tx } from '../connect';
import { waitingList } from '../schema/sales';

const ofPlan = (planId: string) => and(eq(waitingList.planId, planId), isNull(waitingList.toldAt));
const inTurn = [asc(waitingList.at), asc(waitingList.id)];

export async function countWaiting(db: Handle, planId: string): Promise<number> {
	const [row] = await db.select({ count: count() }).from(waitingList).where(ofPlan(planId));
	return row?.count ?? 0;
}

/** Those who came first, first. */
export async function waitingFor(
	db: Handle,
	planId: string,
	{ limit, offset = 0 }: { limit: number; offset?: number }
): Promise<{ email: string; at: number }[]> {
	const { email, at } = waitingList;
	return db
		.select({ email, at })
		.from(waitingList)
		.where(ofPlan(planId))
		.orderBy(...inTurn)
		.limit(limit)
		.offset(offset);
}

export async function isWaiting(db: Handle, planId: string, email: string): Promise<boolean> {
	const [row] = await db
		.select({ id: waitingList.id })
		.from(waitingList)
		.where(and(ofPlan(planId), eq(waitingList.email, email)));
	return row !== undefined;
}

/** Plans that somebody waits for. */
export async function plansWaitedFor(db: Handle): Promise<string[]> {
	const rows = await db
		.selectDistinct({ planId: waitingList.planId })
		.from(waitingList)
		.where(isNull(waitingList.toldAt));
	return rows.map(({ planId }) => planId);
}

/** The next that are told, who wait no more by it. @returns their rows, in the order in which they came */
export async function takeWaiting(tx: Tx, planId: string, now: number, limit: number): Promise<string[]> {
	const rows = await tx
		.select({ id: waitingList.id })
		.from(waitingList)
		.where(ofPlan(planId))
		.orderBy(...inTurn)
		.limit(limit)
		.for('update');
	const ids = rows.map(({ id }) => id);
	if (ids.length > 0) await tx.update(waitingList).set({ toldAt: now }).where(inArray(waitingList.id, ids));
	return ids;
}

export async function waitingById(db: Handle, id: string) {
	const [row] = await db.select().from(waitingList).where(eq(waitingList.id, id));
	return row ?? null;
}
