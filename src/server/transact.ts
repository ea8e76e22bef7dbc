/**
 * One transaction of a use case: its rows, its audit, its effects, and, as the last write, the counter of rights.
 *
 * Effects (mails, charges, preparations) are queued in the same transaction, so that neither happens without the other.
 */
import { sql } from 'drizzle-orm';
import type { Actor, App } from './app';
import { isWorthRepeating, type Tx } from './db/connect';
import { CONTENT, DEVICES } from './rights/rights';
import { writePolicyVersion } from './db/queries/policy';
import { audit, jobs, type Queue } from './db/schema/running';
import { rightsChanges, rightsCounter } from './db/schema/access';

export interface AuditNote {
	action: string;
	subject: { kind: string; id: string };
	memberId?: string;
	before?: unknown;
	after?: unknown;
	why?: string;
}

export interface QueuedJob {
	queue: Queue;
	kind: string;
	payload: Record<string, unknown>;
	/** Queued once for each key. */
	key?: string;
	/** By the queue's clock; now where it is left out. */
	runAt?: number;
	subjectId?: string;
}

export interface Work {
	tx: Tx;
	/** Business time of the whole transaction. */
	now: number;
	note(entry: AuditNote): Promise<void>;
	queue(job: QueuedJob): Promise<void>;
	/** The member's grants, account or sessions changed. */
	standingChanged(memberId: string): void;
	/** Items, fences or plans changed. */
	policyChanged(cause: string): void;
	/** Only what is shown changed: titles, pictures, words. */
	contentChanged(): void;
	/** A device that nobody is signed in on redeemed a code. */
	devicesChanged(): void;
}

const TRIES = 6;

export async function transact<T>(app: App, actor: Actor, work: (work: Work) => Promise<T>): Promise<T> {
	for (let attempt = 1; ; attempt++) {
		try {
			return await once(app, actor, work);
		} catch (error) {
			if (attempt >= TRIES || !isWorthRepeating(error)) throw error;
		}
	}
}

async function once<T>(app: App, actor: Actor, body: (work: Work) => Promise<T>): Promise<T> {
	const now = app.clock.business();
	const changed = new Set<string | null>();
	let hasQueued = false;
	const result = await app.db.transaction(async (tx) => {
		let policyCause: string | null = null;
		const done = await body({
			tx,
			now,
			async note({ action, subject, memberId, before, after, why }) {
				await tx.insert(audit).values({
					wallAt: app.clock.wall(),
					businessAt: now,
					actorId: actor?.id ?? null,
					action,
					subjectKind: subject.kind,
					subjectId: subject.id,
					memberId: memberId ?? null,
					before: before ?? null,
					after: after ?? null,
					why: why ?? null
				});
			},
			async queue(job) {
				hasQueued = true;
				const clockNow = job.queue === 'billing' ? now : app.clock.wall();
				await tx
					.insert(jobs)
					.ignore()
					.values({
						queue: job.queue,
						kind: job.kind,
						key: job.key ?? null,
						payload: job.payload,
						runAt: job.runAt ?? clockNow,
						state: 'waiting',
						subjectId: job.subjectId ?? null,
						createdAt: app.clock.wall()
					});
			},
			standingChanged: (memberId) => void changed.add(memberId),
			policyChanged: (cause) => void (policyCause = cause),
			contentChanged: () => void changed.add(CONTENT),
			devicesChanged: () => void changed.add(DEVICES)
		});
		if (policyCause !== null) {
			await writePolicyVersion(tx, now, policyCause);
			changed.add(null);
		}
		if (changed.size > 0) await countRights(tx, [...changed]);
		return done;
	});
	if (changed.size > 0) await app.rights.refresh();
	if (hasQueued) app.wake();
	return result;
}

/** The counter's row is locked last, so that transactions wait for each other no longer than they must. */
async function countRights(tx: Tx, members: (string | null)[]): Promise<void> {
	await tx.update(rightsCounter).set({ value: sql`${rightsCounter.value} + 1` });
	const [row] = await tx.select({ value: rightsCounter.value }).from(rightsCounter);
	await tx.insert(rightsChanges).values(members.map((memberId) => ({ value: row?.value ?? 0, memberId })));
}
