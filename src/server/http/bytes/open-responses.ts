/**
 * Responses that are being sent. Twice a second each is asked whether it may go on: access that has ended, by whatever
 * event, ends what is under way within a second.
 */
const ASKED_EVERY_MS = 500;

/** Answers that may go on for the same reason. */
interface Open {
	mayGoOn: () => Promise<boolean>;
	endings: Set<AbortController>;
}

export class OpenResponses {
	private readonly open = new Map<string, Open>();
	private timer: NodeJS.Timeout | null = null;

	/**
	 * Runs `send` with a signal that is given when it may not go on.
	 * @param reason what goes on for the same reason is asked for once
	 */
	async during(
		reason: string,
		mayGoOn: () => Promise<boolean>,
		send: (signal: AbortSignal) => Promise<void>
	): Promise<void> {
		const ending = new AbortController();
		const known = this.open.get(reason);
		if (known) known.endings.add(ending);
		else this.open.set(reason, { mayGoOn, endings: new Set([ending]) });
		this.timer ??= setInterval(() => void this.ask(), ASKED_EVERY_MS).unref();
		try {
			await send(ending.signal);
		} finally {
			const endings = this.open.get(reason)?.endings;
			endings?.delete(ending);
			if (endings?.size === 0) this.open.delete(reason);
			if (this.open.size === 0 && this.timer) {
				clearInterval(this.timer);
				this.timer = null;
			}
		}
	}

	private async ask(): Promise<void> {
		await Promise.all(
			[...this.open.values()].map(async ({ mayGoOn, endings }) => {
				// Without a decision nothing is open.
				if (!(await mayGoOn().catch(() => false))) for (const ending of endings) ending.abort();
			})
		);
	}
}
