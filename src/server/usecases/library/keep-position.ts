import { sql } from 'drizzle-orm';
import type { App } from '../../app';
import { positions } from '../../db/schema/library';

const LONGEST_SECONDS = 7 * 86_400;

/** The last word counts, from whichever device it comes. */
export async function keepPosition(
	app: App,
	memberId: string,
	itemId: string,
	seconds: number
): Promise<void> {
	const within = Math.min(LONGEST_SECONDS, Math.max(0, Math.floor(seconds) || 0));
	await app.db
		.insert(positions)
		.values({ memberId, itemId, seconds: within, changedAt: app.clock.wall() })
		.onDuplicateKeyUpdate({ set: { seconds: sql`values(seconds)`, changedAt: sql`values(changed_at)` } });
}
