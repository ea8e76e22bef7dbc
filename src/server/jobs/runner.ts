/** Runs due jobs: one of each queue at a time, so that there is one transcoding at most and billing goes in order. */
import type { App } from '../app';
import type { Queue } from '../db/schema/running';
import { HANDLERS, isFinal } from './handlers';
import { fail, finish, keepLease, releaseLost, takeDue, type Job } from './queue';

const QUEUES: readonly Queue[] = ['media', 'billing', 'mail'];
const POLL_MS = 1000;
const HEARTBEAT_MS = 1000;
const MAX_ATTEMPTS = 8;
const FIRST_RETRY_MS = 2000;

export class Runner {
	private readonly ending = new AbortController();
	private readonly turns = new Map<Queue, Promise<number>>();
	private timer: NodeJS.Timeout | null = null;

	constructor(private readonly app: App) {}

	start(): void {
		this.timer = setInterval(() => this.wake(), POLL_MS);
		this.wake();
	}

	wake(): void {
		if (this.timer === null || this.ending.signal.aborted) return;
		for (const queue of QUEUES) {
			this.runDue(queue).catch((error: unknown) =>
				this.app.log.error({ err: error, queue }, 'a queue stopped')
			);
		}
	}

	/** Runs everything in the queue that is due, after whoever runs it now. Gives the number of jobs. */
	runDue(queue: Queue): Promise<number> {
		const before = this.turns.get(queue) ?? Promise.resolve(0);
		const turn = before.catch(() => 0).then(() => this.drain(queue));
		this.turns.set(queue, turn);
		return turn;
	}

	async stop(): Promise<void> {
		if (this.timer) clearInterval(this.timer);
		this.ending.abort();
		await Promise.allSettled(this.turns.values());
	}

	private async drain(queue: Queue): Promise<number> {
		const { db, clock } = this.app;
		await releaseLost(db, clock.wall());
		for (let done = 0; ; done++) {
			if (this.ending.signal.aborted) return done;
			const queueNow = queue === 'billing' ? clock.business() : clock.wall();
			const job = await takeDue(db, queue, queueNow, clock.wall());
			if (!job) return done;
			await this.runOne(job, queueNow);
		}
	}

	private async runOne(job: Job, queueNow: number): Promise<void> {
		const { db, clock, log } = this.app;
		let progress = 0;
		const lost = new AbortController();
		const heartbeat = setInterval(() => {
			keepLease(db, job, progress, clock.wall()).then(
				(kept) => kept || lost.abort(),
				(error: unknown) => log.warn({ err: error, jobId: job.id }, 'could not keep a lease')
			);
		}, HEARTBEAT_MS);
		try {
			const handler = HANDLERS[job.kind];
			if (!handler) throw new Error(`No handler for jobs of kind ${job.kind}`);
			await handler(this.app, job.payload, {
				onProgress: (share) => void (progress = Math.round(share * 100)),
				signal: AbortSignal.any([this.ending.signal, lost.signal])
			});
			await finish(db, job);
		} catch (error) {
			const isOver = isFinal(error) || job.attempts >= MAX_ATTEMPTS;
			const retryAt = isOver ? null : queueNow + FIRST_RETRY_MS * 2 ** (job.attempts - 1);
			log[isOver ? 'error' : 'warn'](
				{ err: error, jobId: job.id, kind: job.kind, attempts: job.attempts },
				'a job failed'
			);
			await fail(db, job, error instanceof Error ? error.message : String(error), retryAt);
		} finally {
			clearInterval(heartbeat);
		}
	}
}
