/**
 * The queue in the database. A worker takes a job with a token and a lease; only who holds the token may report progress
 * or completion, so that a job whose worker was thought dead is never finished twice.
 */
import { and, asc, eq, lt, lte, min } from 'drizzle-orm';
import { v4 as uuidv4 } from 'uuid';
import { repeating, type Db, type Handle, type Tx } from '../db/connect';
import { jobs, onceKeys, type Lane } from '../db/schema/running';
import { MAX_BEGINNINGS } from './kinds';

export type Job = typeof jobs.$inferSelect;

export const LEASE_MS = 60_000;

/** Takes the job that is due longest; `null` when none is. */
export async function takeDue(db: Db, lane: Lane, laneNow: number, wallNow: number): Promise<Job | null> {
	const take = async (tx: Tx) => {
		const [due] = await tx
			.select()
			.from(jobs)
			.where(and(eq(jobs.lane, lane), eq(jobs.state, 'waiting'), lte(jobs.runAt, laneNow)))
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
	};
	return repeating(() => db.transaction(take, { isolationLevel: 'read committed' }));
}

/** `false` when the lease was lost. */
export async function keepLease(db: Db, job: Job, progress: number, wallNow: number): Promise<boolean> {
	const leaseUntil = wallNow + LEASE_MS;
	const [kept] = await repeating(() => db.update(jobs).set({ progress, leaseUntil }).where(holds(job)));
	return kept.affectedRows === 1;
}

export async function finish(db: Db, job: Job): Promise<void> {
	// What was done needs no payload any more, and some payloads name people.
	const done = { state: 'done', progress: 100, problem: null, payload: {} } as const;
	await repeating(() => db.update(jobs).set(done).where(holds(job)));
}

export async function fail(db: Db, job: Job, problem: string, retryAt: number | null): Promise<void> {
	const next =
		retryAt === null ? { state: 'failed' as const } : { state: 'waiting' as const, runAt: retryAt };
	const failed = { ...next, problem: problem.slice(0, 500) };
	await repeating(() => db.update(jobs).set(failed).where(holds(job)));
}

/** Jobs whose worker has died wait again; one that was begun too often has ended its process, and is tried no more. */
export async function releaseLost(db: Db, wallNow: number): Promise<void> {
	const isLost = and(eq(jobs.state, 'running'), lt(jobs.leaseUntil, wallNow));
	// Read without a lock, then changed by its own key: an update that looks for them locks what others are at.
	const lost = await db.select({ id: jobs.id, attempts: jobs.attempts }).from(jobs).where(isLost);
	for (const { id, attempts } of lost) {
		const next =
			attempts < MAX_BEGINNINGS
				? { state: 'waiting' as const, leaseToken: null }
				: { state: 'failed' as const, leaseToken: null, problem: ENDED_EACH_TIME };
		await repeating(() =>
			db
				.update(jobs)
				.set(next)
				.where(and(eq(jobs.id, id), isLost))
		);
	}
}

const ENDED_EACH_TIME = 'Each time it was begun, the process that ran it ended.';

/** When the next job of a lane is due, up to `limit`. */
export async function nextDue(db: Db, lane: Lane, limit: number): Promise<number | null> {
	const [row] = await db
		.select({ at: min(jobs.runAt) })
		.from(jobs)
		.where(and(eq(jobs.lane, lane), eq(jobs.state, 'waiting'), lte(jobs.runAt, limit)));
	return row?.at ?? null;
}

/** Forgets what was done, and keys that nothing can bring again. */
export async function forgetDone(db: Db, doneBefore: number, keysBefore: number): Promise<void> {
	await db.delete(jobs).where(and(eq(jobs.state, 'done'), lt(jobs.createdAt, doneBefore)));
	await db.delete(onceKeys).where(lt(onceKeys.at, keysBefore));
}

/** A failed job waits again, from now on and with all its tries. */
export async function runAgain(db: Handle, id: string, laneNow: number, wallNow: number): Promise<boolean> {
	const [done] = await db
		.update(jobs)
		.set({ state: 'waiting', attempts: 0, runAt: laneNow, createdAt: wallNow })
		.where(and(eq(jobs.id, id), eq(jobs.state, 'failed')));
	return done.affectedRows === 1;
}

function holds(job: Job) {
	return and(eq(jobs.id, job.id), eq(jobs.leaseToken, job.leaseToken ?? ''), eq(jobs.state, 'running'));
}
