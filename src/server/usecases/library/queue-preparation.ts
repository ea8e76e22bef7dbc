import { and, eq } from 'drizzle-orm';
import { jobs } from '../../db/schema/running';
import type { Work } from '../../transact';

/** Once for each asset while it waits. One that runs was begun before what is wished now, so another follows it. */
export async function queuePreparation(work: Work, assetId: string): Promise<void> {
	const [waiting] = await work.tx
		.select({ id: jobs.id })
		.from(jobs)
		.where(and(eq(jobs.subjectId, assetId), eq(jobs.kind, 'prepare'), eq(jobs.state, 'waiting')));
	if (!waiting) await work.queue('prepare', { assetId }, { subjectId: assetId });
}
