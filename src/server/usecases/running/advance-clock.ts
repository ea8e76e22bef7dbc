/** Moves the business clock forward, in the demo only, stopping at everything that falls due on the way. */
import type { Using } from '../../app';
import { businessClock, type Lane } from '../../db/schema/running';
import { nextDue } from '../../jobs/queue';
import { transact, type Transacting } from '../../transact';
import { need, type Staff } from '../../people/need';

const DAY_MS = 86_400_000;
export const MAX_DAYS_AT_ONCE = 370;

export type Advanced =
	{ ok: true; jobs: number; now: number } | { ok: false; code: 'not-movable' | 'only-forward' | 'too-far' };

export async function advanceClock(
	app: Transacting & Using<'settings'>,
	runDue: (lane: Lane) => Promise<number>,
	actor: Staff,
	to: number
): Promise<Advanced> {
	need(actor, 'settings');
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
		await setClock(app, Math.max(due, app.clock.business()));
		jobs += await runDue('billing');
		await runDue('payments');
	}
	if (app.clock.business() < to) await setClock(app, to);
	await runDue('sign-in');
	await runDue('mail');
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
