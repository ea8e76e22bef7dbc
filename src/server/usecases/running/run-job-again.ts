import { eq } from 'drizzle-orm';
import { jobs } from '../../db/schema/running';
import { runAgain } from '../../jobs/queue';
import { transact, type Transacting } from '../../transact';
import { need, type Staff } from '../../people/need';

export type RanAgain = { ok: true } | { ok: false; code: 'not-failed' };

/** A failed job waits again, from now on and with all its tries. */
export async function runJobAgain(app: Transacting, actor: Staff, id: string): Promise<RanAgain> {
	need(actor, 'library', 'members', 'sales', 'settings');
	const wallNow = app.clock.wall();
	const done = await transact<RanAgain>(app, actor, async (work) => {
		const [job] = await work.tx.select({ lane: jobs.lane }).from(jobs).where(eq(jobs.id, id));
		const laneNow = job?.lane === 'billing' ? work.now : wallNow;
		if (!job || !(await runAgain(work.tx, id, laneNow, wallNow))) return { ok: false, code: 'not-failed' };
		await work.note({ action: 'ran-job-again', subject: { kind: 'job', id } });
		return { ok: true };
	});
	if (done.ok) app.wake();
	return done;
}
