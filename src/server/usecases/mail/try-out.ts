import type { Using } from '../../app';
import { accountById } from '../../db/queries/members';
import { need, type Staff } from '../../people/need';
import { allows } from '../../people/rate-limit';

export type MayTry = { ok: true; to: string } | { ok: false; code: 'too-many' | 'nobody' };

/** Whether somebody may send a mail whose words they write to themselves, and where to; the sending is counted. */
export async function mayTryMailOut(app: Using<'clock' | 'db'>, actor: Staff): Promise<MayTry> {
	need(actor, 'settings');
	const account = actor === null ? null : await accountById(app.db, actor.id);
	if (!account?.email) return { ok: false, code: 'nobody' };
	return (await allows(app, 'tryByStaff', account.id))
		? { ok: true, to: account.email }
		: { ok: false, code: 'too-many' };
}
