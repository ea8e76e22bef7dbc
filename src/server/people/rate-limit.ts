/** Fixed windows in the database, so that all nodes count together. */
import { createHash } from 'node:crypto';
import { eq, lt, sql } from 'drizzle-orm';
import { countedAs } from '$core/media/network';
import type { Using } from '../app';
import { rateLimits } from '../db/schema/people';

export interface Limit {
	count: number;
	windowMs: number;
}

const MINUTE = 60_000;

export const LIMITS = {
	/** Wrong passwords for one address from one client, or from a device that is known to it. */
	signInByPair: { count: 10, windowMs: 15 * MINUTE },
	/** Wrong passwords for one address from everywhere. Devices that are known to it are let through. */
	signInByEmail: { count: 100, windowMs: 15 * MINUTE },
	signInByClient: { count: 60, windowMs: 15 * MINUTE },
	/** Codes of six digits: by chance one of them is right with less than 2 in 10,000 a day. */
	codeByAccount: { count: 5, windowMs: 15 * MINUTE },
	codeByAccountDaily: { count: 50, windowMs: 24 * 60 * MINUTE },
	/** Recovery codes, too; those are too long to be guessed, and nobody can use up the tries of their owner. */
	secondByClient: { count: 60, windowMs: 15 * MINUTE },
	/** Mails to one address. */
	linkByEmail: { count: 5, windowMs: 60 * MINUTE },
	/** Mails about one gift, beside the one on its day: a giver has addresses wrong, and does not write to half the world. */
	tellByGift: { count: 5, windowMs: 24 * 60 * MINUTE },
	/** Seats that one member gives: each is a mail to somebody. */
	seatsByMember: { count: 400, windowMs: 24 * 60 * MINUTE },
	/** Mails that somebody of the staff sends to themselves. */
	tryByStaff: { count: 30, windowMs: 60 * MINUTE },
	linkByClient: { count: 30, windowMs: 60 * MINUTE },
	orderByClient: { count: 60, windowMs: 60 * MINUTE },
	/** Guesses at codes. */
	codeByClient: { count: 30, windowMs: 15 * MINUTE },
	enterByClient: { count: 60, windowMs: 15 * MINUTE },
	/** All that is kept of somebody, read at once. */
	exportByClient: { count: 10, windowMs: 60 * MINUTE }
} satisfies Record<string, Limit>;

const BY_CLIENT: ReadonlySet<keyof typeof LIMITS> = new Set([
	'signInByClient',
	'secondByClient',
	'linkByClient',
	'orderByClient',
	'codeByClient',
	'enterByClient',
	'exportByClient'
]);

/** Counts one try; `false` when the limit was already reached. */
export async function allows(
	app: Using<'clock' | 'db'>,
	kind: keyof typeof LIMITS,
	who: string
): Promise<boolean> {
	const { count, windowMs } = LIMITS[kind];
	const bucket = bucketOf(kind, who);
	const wallNow = app.clock.wall();
	const at = new Date(wallNow).toISOString().replace('T', ' ').replace('Z', '');
	await app.db
		.insert(rateLimits)
		.values({ bucket, windowEnd: wallNow + windowMs, count: 1 })
		.onDuplicateKeyUpdate({
			// Assigned from left to right: the count is set before the window that it looks at.
			set: {
				count: sql`if(window_end <= ${at}, 1, count + 1)`,
				windowEnd: sql`if(window_end <= ${at}, values(window_end), window_end)`
			}
		});
	const [row] = await app.db
		.select({ count: rateLimits.count })
		.from(rateLimits)
		.where(eq(rateLimits.bucket, bucket));
	return (row?.count ?? 0) <= count;
}

/** Begins to count anew: who has shown that they know the password was no guesser. */
export async function forgetTries(app: Using<'db'>, kind: keyof typeof LIMITS, who: string): Promise<void> {
	await app.db.delete(rateLimits).where(eq(rateLimits.bucket, bucketOf(kind, who)));
}

/** One try that was none. */
export async function takeTryBack(app: Using<'db'>, kind: keyof typeof LIMITS, who: string): Promise<void> {
	await app.db
		.update(rateLimits)
		.set({ count: sql`greatest(0, count - 1)` })
		.where(eq(rateLimits.bucket, bucketOf(kind, who)));
}

/** Of a fixed length, so that the ends of long addresses count, too. */
function bucketOf(kind: keyof typeof LIMITS, who: string): string {
	return `${kind}:${createHash('sha256')
		.update(BY_CLIENT.has(kind) ? countedAs(who) : who)
		.digest('base64url')}`;
}

export async function forgetOldWindows(app: Using<'clock' | 'db'>): Promise<void> {
	await app.db.delete(rateLimits).where(lt(rateLimits.windowEnd, app.clock.wall()));
}
