/** Moves the business clock forward, in the demo or the practice book, doing everything that falls due on the way. */
import type { Runs, Using } from '../../app';
import { businessClock } from '../../db/schema/running';
import { nextDue } from '../../jobs/queue';
import { transact, type Transacting } from '../../transact';
import { need, type Staff } from '../../people/need';

const DAY_MS = 86_400_000;
export const MAX_DAYS_AT_ONCE = 370;

export type Advanced =
	{ ok: true; jobs: number; now: number } | { ok: false; code: 'not-movable' | 'only-forward' | 'too-far' };

/** So far ahead at once is done what falls due: what is asked for and what is numbered keeps its order by days. */
const STEP_MS = DAY_MS / 4;

export async function advanceClock(
	app: Transacting & Using<'settings'>,
	runner: Runs,
	actor: Staff,
	to: number
): Promise<Advanced> {
	need(actor, app.isPractice ? 'members' : 'settings');
	if (!app.settings.hasMovableClock) return { ok: false, code: 'not-movable' };
	const from = app.clock.business();
	if (!(to > from)) return { ok: false, code: 'only-forward' };
	if (to > from + MAX_DAYS_AT_ONCE * DAY_MS) return { ok: false, code: 'too-far' };
	let jobs = 0;
	for (
		let due = await nextDue(app.db, 'billing', to);
		due !== null;
		due = await nextDue(app.db, 'billing', to)
	) {
		const until = Math.min(to, due + STEP_MS);
		jobs += await runner.runAhead(until);
		await runner.runDue('payments');
		if (until > app.clock.business()) await setClock(app, until);
	}
	if (app.clock.business() < to) await setClock(app, to);
	await runner.runDue('sign-in');
	await runner.runDue('mail');
	await transact(app, actor, async (work) => {
		const subject = { kind: 'clock', id: '00000000-0000-7000-8000-000000000001' };
		await work.note({ action: 'moved-clock', subject, before: from, after: to });
	});
	return { ok: true, jobs, now: app.clock.business() };
}

/** Sets the business clock; it then runs on with the wall clock. */
export async function setClock(app: Using<'clock' | 'db' | 'rights'>, businessNow: number): Promise<void> {
	await app.db.update(businessClock).set({ offsetMs: businessNow - app.clock.wall() });
	await app.rights.refresh();
}
