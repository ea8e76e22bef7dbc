/**
 * Uses of files that are being sent: each is taken once, before its first byte, and given back when all that was sent of it
 * is almost nothing.
 */
import { isGivenBack } from '$core/media/uses';
import type { App } from '../../app';
import { giveUseBack, takeFileUse } from '../../usecases/library/uses';

/** After the last byte of a use this long nothing more of it is expected. */
const SETTLED_AFTER_MS = 3000;
const KEPT = 20_000;

interface UseOf {
	useId: string;
	memberId: string;
	itemId: string;
}

export class UsesUnderWay {
	private readonly uses = new Map<string, UseUnderWay>();

	constructor(private readonly app: App) {}

	/** `null`: the limit is reached. */
	async take(of: UseOf): Promise<UseUnderWay | null> {
		const known = this.uses.get(of.useId);
		if (known?.isTaken) return known;
		if (!(await takeFileUse(this.app, of))) return null;
		const made = new UseUnderWay((sent) => this.giveBack(of, sent));
		this.uses.set(of.useId, made);
		const oldest = this.uses.size > KEPT ? this.uses.keys().next().value : undefined;
		if (oldest !== undefined) this.uses.delete(oldest);
		return made;
	}

	private giveBack({ useId, memberId }: UseOf, sent: number): void {
		this.uses.delete(useId);
		giveUseBack(this.app, useId, memberId, sent).catch((error: unknown) =>
			this.app.log.warn({ err: error, useId }, 'a use could not be given back')
		);
	}
}

export class UseUnderWay {
	/** Not any more when it was given back: then it must be taken again. */
	isTaken = true;
	private bytes = 0;
	private open = 0;
	private isSettled = false;
	private timer: NodeJS.Timeout | null = null;

	constructor(private readonly giveBack: (sent: number) => void) {}

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
		this.isSettled = true;
	}

	/** @param size of the file */
	ended(size: number): void {
		this.open--;
		this.isSettled ||= !isGivenBack(this.bytes, size);
		if (this.isSettled || this.open > 0 || this.timer) return;
		this.timer = setTimeout(() => {
			this.timer = null;
			if (this.open > 0) return;
			this.isTaken = false;
			this.giveBack(this.bytes);
		}, SETTLED_AFTER_MS);
	}
}
