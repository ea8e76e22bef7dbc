import { sql } from 'drizzle-orm';
import type { Using } from '../../app';
import { positions } from '../../db/schema/library';
import { decideIn, type Look, type Looking } from '../../rights/look';

const LONGEST_SECONDS = 7 * 86_400;

/** Where a member is in a film that is open to them: the last word counts, from whichever device it comes. */
export async function keepPosition(
	app: Looking & Using<'clock'>,
	look: Look,
	itemId: string,
	seconds: number
): Promise<{ ok: true } | { ok: false; code: 'nobody' | 'closed' }> {
	const { memberId } = look;
	if (memberId === null || look.otherSide) return { ok: false, code: 'nobody' };
	if ((await decideIn(app, look, itemId)).verdict !== 'open') return { ok: false, code: 'closed' };
	const within = Math.min(LONGEST_SECONDS, Math.max(0, Math.floor(seconds) || 0));
	await app.db
		.insert(positions)
		.values({ memberId, itemId, seconds: within, changedAt: app.clock.wall() })
		.onDuplicateKeyUpdate({ set: { seconds: sql`values(seconds)`, changedAt: sql`values(changed_at)` } });
	return { ok: true };
}
