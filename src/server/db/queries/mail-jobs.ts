/** Mails that wait to be sent, or could not be. */
import { and, asc, count, inArray } from 'drizzle-orm';
import type { Handle } from '../connect';
import { jobs, MAIL_LANES } from '../schema/running';

const { id, kind, payload, state, attempts, problem, runAt, createdAt, memberId } = jobs;
const SHOWN = { id, kind, payload, state, attempts, problem, runAt, createdAt, memberId };

export type WaitingMail = Awaited<ReturnType<typeof waitingMails>>['rows'][number];

/** Those that could not be sent first, then what is due first. */
export async function waitingMails(db: Handle, limit: number) {
	const isThere = and(
		inArray(jobs.lane, [...MAIL_LANES]),
		inArray(jobs.state, ['waiting', 'running', 'failed'])
	);
	const counted = await db
		.select({ state: jobs.state, count: count() })
		.from(jobs)
		.where(isThere)
		.groupBy(jobs.state);
	const rows = await db
		.select(SHOWN)
		.from(jobs)
		.where(isThere)
		.orderBy(asc(jobs.state), asc(jobs.runAt))
		.limit(limit);
	const of = (state: string) => counted.find((one) => one.state === state)?.count ?? 0;
	return { rows, failed: of('failed'), waiting: of('waiting') + of('running') };
}
