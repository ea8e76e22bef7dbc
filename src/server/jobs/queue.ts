/**
 * The queue in the database. A worker takes a job with a token and a lease; only who holds the token may report progress
 * or completion, so that a job whose worker was thought dead is never finished twice.
 */
import { and, asc, eq, lt, lte, min, sql } from 'drizzle-orm';
import { v4 as uuidv4 } from 'uuid';
import type { Db } from '../db/connect';
import { jobs, type Queue } from '../db/schema/running';

export type Job = typeof jobs.$inferSelect;

export const LEASE_MS = 60_000;

/** Takes the job that is due longest; `null` when none is. */
export async function takeDue(db: Db, queue: Queue, queueNow: number, wallNow: number): Promise<Job | null> {
	return db.transaction(
		async (tx) => {
			const [due] = await tx
				.select()
				.from(jobs)
				.where(and(eq(jobs.queue, queue), eq(jobs.state, 'waiting'), lte(jobs.runAt, queueNow)))
				.orderBy(asc(jobs.runAt))
				.limit(1)
				.for('update', { skipLocked: true });
			if (!due) return null;
			const leaseToken = uuidv4();
			await tx
				.update(jobs)
				.set({ state: 'running', leaseToken, leaseUntil: wallNow + LEASE_MS, attempts: due.attempts + 1 })
				.where(eq(jobs.id, due.id));
			return { ...due, leaseToken, attempts: due.attempts + 1 };
		},
		{ isolationLevel: 'read committed' }
	);
}

/** `false` when the lease was lost. */
export async function keepLease(db: Db, job: Job, progress: number, wallNow: number): Promise<boolean> {
	const [kept] = await db
		.update(jobs)
		.set({ progress, leaseUntil: wallNow + LEASE_MS })
		.where(holds(job));
	return kept.affectedRows === 1;
}

export async function finish(db: Db, job: Job): Promise<void> {
	await db.update(jobs).set({ state: 'done', progress: 100, problem: null }).where(holds(job));
}

export async function fail(db: Db, job: Job, problem: string, retryAt: number | null): Promise<void> {
	const next =
		retryAt === null ? { state: 'failed' as const } : { state: 'waiting' as const, runAt: retryAt };
	await db
		.update(jobs)
		.set({ ...next, problem: problem.slice(0, 500) })
		.where(holds(job));
}

/** Jobs whose worker has died wait again. */
export async function releaseLost(db: Db, wallNow: number): Promise<void> {
	await db
		.update(jobs)
		.set({ state: 'waiting', leaseToken: null })
		.where(and(eq(jobs.state, 'running'), lt(jobs.leaseUntil, wallNow)));
}

/** When the next job of a queue is due, up to `limit`. */
export async function nextDue(db: Db, queue: Queue, limit: number): Promise<number | null> {
	const [row] = await db
		.select({ at: min(jobs.runAt) })
		.from(jobs)
		.where(and(eq(jobs.queue, queue), eq(jobs.state, 'waiting'), lte(jobs.runAt, limit)));
	return row?.at ?? null;
}

/** Done jobs without a key say nothing any more; those with one keep the same effect from being queued again. */
export async function forgetDone(db: Db, before: number): Promise<void> {
	await db
		.delete(jobs)
		.where(and(eq(jobs.state, 'done'), lt(jobs.createdAt, before), sql`${jobs.key} is null`));
}

function holds(job: Job) {
	return and(eq(jobs.id, job.id), eq(jobs.leaseToken, job.leaseToken ?? ''), eq(jobs.state, 'running'));
}
