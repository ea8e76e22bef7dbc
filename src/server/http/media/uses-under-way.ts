/**
 * Uses of files that are being sent: each is taken once, before its first byte, and settled when nothing more of it comes.
 * What is known of them is in the database; here is only what this process has sent and not written down yet.
 */
import { isGivenBack } from '$core/media/uses';
import type { App } from '../../app';
import { settleFileUse, takeFileUse } from '../../usecases/library/uses';

/** After the last byte of a use this long nothing more of it is expected. */
const SETTLED_AFTER_MS = 3000;
const KEPT = 20_000;

interface UseOf {
	useId: string;
	memberId: string;
	itemId: string;
	assetId: string;
}

export class UsesUnderWay {
	private readonly uses = new Map<string, UseUnderWay>();
	private readonly taking = new Map<string, Promise<UseUnderWay | null>>();

	constructor(private readonly app: App) {}

	/** `null`: the limit is reached. */
	take(of: UseOf): Promise<UseUnderWay | null> {
		const known = this.uses.get(of.useId);
		if (known?.isTaken) return Promise.resolve(known);
		const taking = this.taking.get(of.useId);
		if (taking) return taking;
		const asked = this.begin(of).finally(() => this.taking.delete(of.useId));
		this.taking.set(of.useId, asked);
		return asked;
	}

	private async begin(of: UseOf): Promise<UseUnderWay | null> {
		if (!(await takeFileUse(this.app, of)).ok) return null;
		const made = new UseUnderWay((sent, size) => this.settle(of, made, sent, size));
		this.uses.set(of.useId, made);
		const oldest = this.uses.size > KEPT ? this.uses.keys().next().value : undefined;
		if (oldest !== undefined) this.uses.delete(oldest);
		return made;
	}

	private settle(of: UseOf, use: UseUnderWay, sent: number, size: number): void {
		settleFileUse(this.app, of, sent, size).then(
			(settled) => {
				use.isTaken = settled === 'counts';
				if (this.uses.get(of.useId) === use) this.uses.delete(of.useId);
			},
			// It was taken, and stays so.
			(error: unknown) => this.app.log.warn({ err: error, useId: of.useId }, 'a use could not be settled')
		);
	}
}

export class UseUnderWay {
	/** Not any more when it was given back: then it must be taken again. */
	isTaken = true;
	private bytes = 0;
	private open = 0;
	private counts = false;
	private timer: NodeJS.Timeout | null = null;

	constructor(private readonly settle: (sent: number, size: number) => void) {}

	begun(): void {
		this.open++;
		if (this.timer) clearTimeout(this.timer);
		this.timer = null;
	}

	sent(bytes: number): void {
		this.bytes += bytes;
	}

	/** Whoever sends it says no more of it: it counts. */
	settled(): void {
		this.counts = true;
	}

	/** @param size of the file */
	ended(size: number): void {
		this.open--;
		this.counts ||= !isGivenBack(this.bytes, size);
		if (this.counts || this.open > 0 || this.timer) return;
		this.timer = setTimeout(() => {
			this.timer = null;
			if (this.open > 0) return;
			const sent = this.bytes;
			this.bytes = 0;
			// Until it is known, nothing more is sent on it.
			this.isTaken = false;
			this.settle(sent, size);
		}, SETTLED_AFTER_MS);
	}
}
