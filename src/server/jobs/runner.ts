/**
 * Runs due jobs, so many of each lane side by side. What an agreement becomes does not hang on the order in which its jobs
 * are run: each is told when it fell due.
 */
import { nextTry } from '$core/time/retry';
import type { App } from '../app';
import { LANES, type Lane } from '../db/schema/running';
import type { Clock } from '../ports/clock';
import { isJobKind, KINDS } from './kinds';
import { errorForLog } from '../log-errors';
import { carryOut, isFinal } from './handlers';
import { fail, finish, keepLease, releaseLost, takeDue, type Job } from './queue';

/** One film that is prepared keeps a machine busy; the others wait for the database or for somebody who answers. */
const SIDE_BY_SIDE: Record<Lane, number> = {
	media: 1,
	billing: 6,
	payments: 4,
	'sign-in': 2,
	mail: 4,
	calls: 4
};

const POLL_MS = 1000;
const HEARTBEAT_MS = 1000;

export class Runner {
	private readonly ending = new AbortController();
	private readonly turns = new Map<Lane, Promise<number>>();
	private readonly waiting = new Map<Lane, Promise<number>>();
	private timer: NodeJS.Timeout | null = null;
	/** Billing jobs up to here are run now, each at its own moment. */
	private ahead = 0;

	constructor(private readonly app: App) {}

	start(): void {
		this.timer = setInterval(() => this.wake(), POLL_MS);
		this.wake();
	}

	wake(): void {
		if (this.timer === null || this.ending.signal.aborted) return;
		for (const lane of LANES) {
			this.runDue(lane).catch((error: unknown) => this.app.log.error({ err: error, lane }, 'a lane stopped'));
		}
	}

	/**
	 * Runs everything in the lane that is due, after whoever runs it now. However many ask meanwhile, one more round waits:
	 * it begins after they asked. Gives the number of jobs.
	 */
	runDue(lane: Lane): Promise<number> {
		const waiting = this.waiting.get(lane);
		if (waiting) return waiting;
		const before = this.turns.get(lane) ?? Promise.resolve(0);
		const turn = before
			.catch(() => 0)
			.then(() => {
				this.waiting.delete(lane);
				this.turns.set(lane, turn);
				return this.drain(lane);
			});
		this.waiting.set(lane, turn);
		return turn;
	}

	/** Runs the billing jobs that fall due up to a moment to come, each as of its own moment. Gives their number. */
	async runAhead(until: number): Promise<number> {
		this.ahead = until;
		try {
			return await this.runDue('billing');
		} finally {
			this.ahead = 0;
		}
	}

	async stop(): Promise<void> {
		if (this.timer) clearInterval(this.timer);
		this.ending.abort();
		await Promise.allSettled([...this.turns.values(), ...this.waiting.values()]);
	}

	private async drain(lane: Lane): Promise<number> {
		await releaseLost(this.app.vital.db, this.app.clock.wall());
		const done = await Promise.all(Array.from({ length: SIDE_BY_SIDE[lane] }, () => this.runInTurn(lane)));
		return done.reduce((sum, count) => sum + count, 0);
	}

	private async runInTurn(lane: Lane): Promise<number> {
		const { clock } = this.app;
		for (let done = 0; ; done++) {
			if (this.ending.signal.aborted) return done;
			const until = lane === 'billing' ? Math.max(clock.business(), this.ahead) : clock.wall();
			const job = await takeDue(this.app.vital.db, lane, until, clock.wall());
			if (!job) return done;
			await this.runOne(job);
		}
	}

	private async runOne(job: Job): Promise<void> {
		const { log } = this.app;
		const { db } = this.app.vital;
		const clock = job.lane === 'billing' ? notBefore(this.app.clock, job.runAt) : this.app.clock;
		const laneNow = job.lane === 'billing' ? clock.business() : clock.wall();
		let progress = 0;
		const lost = new AbortController();
		const heartbeat = setInterval(() => {
			keepLease(db, job, progress, clock.wall()).then(
				(kept) => kept || lost.abort(),
				(error: unknown) => log.warn({ err: error, jobId: job.id }, 'could not keep a lease')
			);
		}, HEARTBEAT_MS);
		try {
			if (!isJobKind(job.kind)) throw new Error(`There are no jobs of kind ${job.kind}`);
			await carryOut({ ...this.app, clock }, job.kind, job.payload, {
				jobId: job.id,
				onProgress: (share) => void (progress = Math.round(share * 100)),
				signal: AbortSignal.any([this.ending.signal, lost.signal])
			});
			await finish(db, job);
		} catch (error) {
			const queuedAt = job.lane === 'billing' ? laneNow - (clock.wall() - job.createdAt) : job.createdAt;
			const retryAt =
				isFinal(error) || !isJobKind(job.kind)
					? null
					: nextTry(KINDS[job.kind].patience, job.attempts, queuedAt, laneNow);
			log[retryAt === null ? 'error' : 'warn'](
				{ err: error, jobId: job.id, kind: job.kind, attempts: job.attempts },
				'a job failed'
			);
			await fail(db, job, problemOf(error), retryAt);
		} finally {
			clearInterval(heartbeat);
		}
	}
}

/** A clock that has come to a moment already. */
function notBefore(clock: Clock, moment: number): Clock {
	return { ...clock, business: () => Math.max(clock.business(), moment) };
}

/** For people and for the log alike: without what was typed or written. */
function problemOf(error: unknown): string {
	const { message, cause } = errorForLog(error);
	return cause ? `${message} (${cause.message})` : message;
}
