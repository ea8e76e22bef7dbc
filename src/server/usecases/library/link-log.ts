/** Writes down from which networks each link was opened, a little later and together. */
import { createHash } from 'node:crypto';
import { sql } from 'drizzle-orm';
import { networkOf } from '$core/media/network';
import { memberOf, type Proof } from '$core/media/proof';
import type { Using } from '../../app';
import { linkOpenings } from '../../db/schema/access';

const WRITTEN_AFTER_MS = 2000;

interface Opening {
	linkHash: string;
	itemId: string;
	memberId: string;
	network: string;
	firstAt: number;
	lastAt: number;
	requests: number;
}

export class LinkLog {
	private waiting = new Map<string, Opening>();
	private timer: NodeJS.Timeout | null = null;

	constructor(private readonly app: Using<'clock' | 'db' | 'log'>) {}

	opened(proof: Proof, client: string): void {
		const { itemId, useId } = proof;
		const memberId = memberOf(proof.subject);
		if (memberId === null || useId === null) return;
		const network = networkOf(client) ?? 'unknown';
		const key = `${useId} ${client}`;
		if (this.waiting.has(key)) return this.again(proof, client);
		const now = this.app.clock.wall();
		const linkHash = createHash('sha256').update(useId).digest('hex');
		this.waiting.set(key, { linkHash, itemId, memberId, network, firstAt: now, lastAt: now, requests: 1 });
		this.timer ??= setTimeout(() => void this.write(), WRITTEN_AFTER_MS);
	}

	/** The next piece for somebody whose opening is known. */
	again(proof: Proof, client: string): void {
		if (proof.useId === null) return;
		const known = this.waiting.get(`${proof.useId} ${client}`);
		if (!known) return this.opened(proof, client);
		known.requests++;
		known.lastAt = this.app.clock.wall();
	}

	private async write(): Promise<void> {
		this.timer = null;
		const rows = [...this.waiting.values()];

		this.waiting = new Map();
		try {
			await this.app.db
				.insert(linkOpenings)
				.values(rows)
				.onDuplicateKeyUpdate({
					set: { requests: sql`requests + values(requests)`, lastAt: sql`values(last_at)` }
				});
		} catch (error) {
			this.app.log.warn({ err: error, links: rows.length }, 'openings of links could not be written down');
		}
	}
}
