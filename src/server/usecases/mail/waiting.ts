/** What waits to be mailed, or could not be. */
import { and, eq, inArray } from 'drizzle-orm';
import { jobs, MAIL_LANES } from '../../db/schema/running';
import { need, type Staff } from '../../people/need';
import { transact, type Transacting, type Work } from '../../transact';

const isMail = inArray(jobs.lane, [...MAIL_LANES]);

export type Hurried = { ok: true } | { ok: false; code: 'not-waiting' };

/** What waits for its next try is tried now; what could not be sent waits again, with all its tries. */
export async function sendNow(app: Transacting, actor: Staff, jobId: string): Promise<Hurried> {
	need(actor, 'members');
	const done = await transact<Hurried>(app, actor, async (work) => {
		const [job] = await work.tx
			.select({ state: jobs.state })
			.from(jobs)
			.where(and(eq(jobs.id, jobId), isMail))
			.for('update');
		if (job?.state !== 'waiting' && job?.state !== 'failed') return { ok: false, code: 'not-waiting' };
		const next = job.state === 'failed' ? anew(work) : { runAt: work.wall };
		await work.tx.update(jobs).set(next).where(eq(jobs.id, jobId));
		await work.note({ action: 'ran-job-again', subject: { kind: 'job', id: jobId } });
		return { ok: true };
	});
	if (done.ok) app.wake();
	return done;
}

/** From now on, with all its tries. */
function anew({ wall }: Work) {
	return { state: 'waiting' as const, attempts: 0, createdAt: wall, runAt: wall };
}

/** All that waits for another try or could not be sent: the mail server answers again. Gives how many. */
export async function sendAllNow(app: Transacting, actor: Staff): Promise<number> {
	need(actor, 'members');
	const count = await transact(app, actor, async (work) => {
		const isIn = (state: 'waiting' | 'failed') => and(isMail, eq(jobs.state, state));
		const [hurried] = await work.tx.update(jobs).set({ runAt: work.wall }).where(isIn('waiting'));
		const [again] = await work.tx.update(jobs).set(anew(work)).where(isIn('failed'));
		const moved = hurried.affectedRows + again.affectedRows;
		if (moved > 0) await work.note({ action: 'sent-waiting-mails', subject: MAILS, after: { count: moved } });
		return moved;
	});
	if (count > 0) app.wake();
	return count;
}

/** What could not be sent is let be: it stands nowhere any more. */
export async function letMailBe(app: Transacting, actor: Staff, jobId: string): Promise<Hurried> {
	need(actor, 'members');
	return transact<Hurried>(app, actor, async (work) => {
		const [ended] = await work.tx
			.update(jobs)
			.set({ state: 'done', payload: {} })
			.where(and(eq(jobs.id, jobId), isMail, eq(jobs.state, 'failed')));
		if (ended.affectedRows === 0) return { ok: false, code: 'not-waiting' };
		await work.note({ action: 'let-mail-be', subject: { kind: 'job', id: jobId } });
		return { ok: true };
	});
}

const MAILS = { kind: 'mails', id: '00000000-0000-7000-8000-000000000003' };
