/**
 * Responses that are being sent. Twice a second each is asked whether it may go on: access that has ended, by whatever
 * event, ends what is under way within a second.
 */
const ASKED_EVERY_MS = 500;

interface Open {
	mayGoOn: () => Promise<boolean>;
	ending: AbortController;
}

export class OpenResponses {
	private readonly open = new Set<Open>();
	private timer: NodeJS.Timeout | null = null;

	/** Runs `send` with a signal that is given when it may not go on. */
	async during(mayGoOn: () => Promise<boolean>, send: (signal: AbortSignal) => Promise<void>): Promise<void> {
		const one: Open = { mayGoOn, ending: new AbortController() };
		this.open.add(one);
		this.timer ??= setInterval(() => void this.ask(), ASKED_EVERY_MS).unref();
		try {
			await send(one.ending.signal);
		} finally {
			this.open.delete(one);
			if (this.open.size === 0 && this.timer) {
				clearInterval(this.timer);
				this.timer = null;
			}
		}
	}

	private async ask(): Promise<void> {
		await Promise.all(
			[...this.open].map(async (one) => {
				// Without a decision nothing is open.
				const mayGoOn = await one.mayGoOn().catch(() => false);
				if (!mayGoOn) one.ending.abort();
			})
		);
	}
}
