/**
 * The pace of keys, kept where all nodes see it: whoever asks two of them gains nothing. A group that this node has given
 * already is given again without asking the database.
 */
import { createHash } from 'node:crypto';
import { eq, lt, sql } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import { fullBucket, GROUP_MS, BURST_GROUPS, paceKey, type Pace } from '$core/media/pace';
import type { Using } from '../../app';
import { keyPaces } from '../../db/schema/access';

const VIEWERS_KEPT = 20_000;
/** After so long a bucket is full again. */
const FULL_AFTER_MS = 2 * BURST_GROUPS * GROUP_MS;

/** `again`: it was given before, and costs nothing. */
export type Given = { kind: 'again' } | Pace;

export class KeyPaces {
	private readonly given = new LRUCache<string, ReadonlySet<number>>({ max: VIEWERS_KEPT });

	constructor(private readonly app: Using<'clock' | 'db'>) {}

	/** @param whose the member, or a stranger's address @param speed the highest that the player may play at */
	async take(whose: string, itemId: string, group: number, speed: number): Promise<Given> {
		const name = createHash('sha256').update(`${whose} ${itemId}`).digest('hex');
		if (this.given.get(name)?.has(group)) return { kind: 'again' };
		const at = this.app.clock.wall();
		const pace = await this.app.db.transaction(async (tx) => {
			// Locks the row, which is there from now on: whoever asks side by side waits here.
			await tx
				.insert(keyPaces)
				.values({ name, bucket: fullBucket(at), at })
				.onDuplicateKeyUpdate({ set: { name: sql`${keyPaces.name}` } });
			const [row] = await tx.select().from(keyPaces).where(eq(keyPaces.name, name));
			const taken = paceKey(row?.bucket ?? fullBucket(at), group, speed, at);
			if (taken.kind === 'give')
				await tx.update(keyPaces).set({ bucket: taken.bucket, at }).where(eq(keyPaces.name, name));
			return taken;
		});
		if (pace.kind === 'give') this.given.set(name, new Set(pace.bucket.given));
		return pace;
	}
}

/** Buckets that are full again say nothing. */
export async function forgetPaces(app: Using<'clock' | 'db'>): Promise<void> {
	await app.db.delete(keyPaces).where(lt(keyPaces.at, app.clock.wall() - FULL_AFTER_MS));
}
