/** Signed notifications, repeated until they are answered with 2xx. */
import { signMessage } from '../../src/server/adapters/message-signature';
import type { Book, TillEvent } from './book';

const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 60_000;
const ANSWER_WITHIN_MS = 5000;
/** What is sent late is so late. */
export const LATE_MS = 10_000;

/** Ways of making one up: with another secret, signed an hour ago, and altered after it was signed. */
export const FORGERIES = ['another-secret', 'an-hour-old', 'altered'] as const;
export type Forgery = (typeof FORGERIES)[number];

export class Notifier {
	private readonly timers = new Set<NodeJS.Timeout>();

	constructor(
		private readonly book: Book,
		private readonly url: string,
		private readonly secret: string
	) {}

	/** Tells of a payment's change, in the way that is set. */
	tell(paymentRef: string): void {
		const event = this.book.event(paymentRef);
		const { delivery } = this.book.contents;
		if (delivery === 'not-at-all') event.isAnswered = true;
		if (delivery === 'once' || delivery === 'twice') void this.deliver(event);
		if (delivery === 'twice') void this.deliver({ ...event });
		if (delivery === 'late') this.later(event, LATE_MS);
	}

	/** Everything that was not answered yet, the last first. */
	async letGo(): Promise<void> {
		for (const event of this.book.contents.events.filter((e) => !e.isAnswered).reverse())
			await this.deliver(event);
	}

	stop(): void {
		for (const timer of this.timers) clearTimeout(timer);
	}

	/** Sends one again, now or in a while, whatever became of it before. */
	async again(id: string, inMs = 0): Promise<void> {
		const event = this.book.contents.events.find((one) => one.id === id);
		if (!event) return;
		event.isDropped = false;
		if (inMs > 0) return this.later(event, inMs);
		event.isAnswered = await this.send(event);
		event.tries++;
		this.book.write();
	}

	/** Is not told any more, whatever was to be tried. */
	drop(id: string): void {
		const event = this.book.contents.events.find((one) => one.id === id);
		if (!event) return;
		event.isAnswered = true;
		event.isDropped = true;
		this.book.write();
	}

	/** Sends one that is not to be believed; gives the shop's answer. */
	async forge(how: Forgery): Promise<string> {
		const paymentRef = Object.keys(this.book.contents.payments).at(-1) ?? 'none';
		const told = { eventId: `forged-${Date.now()}`, paymentRef };
		const secret = how === 'another-secret' ? `${this.secret}x` : this.secret;
		const at = Math.floor(Date.now() / 1000) - (how === 'an-hour-old' ? 3600 : 0);
		const response = await this.post(told, secret, at, how === 'altered').catch(String);
		return typeof response === 'string' ? response : `${response.status} ${await response.text()}`;
	}

	private later(event: TillEvent, ms: number): void {
		const timer = setTimeout(() => {
			this.timers.delete(timer);
			if (!event.isDropped) void this.deliver(event);
		}, ms);
		this.timers.add(timer);
	}

	private async deliver(event: TillEvent): Promise<void> {
		event.tries++;
		event.isAnswered = await this.send(event);
		this.book.write();
		if (event.isAnswered || this.book.contents.delivery === 'kept-back') return;
		this.later(event, Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** Math.min(event.tries, 10)));
	}

	private send({ id: eventId, paymentRef }: TillEvent): Promise<boolean> {
		return this.post({ eventId, paymentRef }, this.secret, Math.floor(Date.now() / 1000)).then(
			(response) => response.ok,
			() => false
		);
	}

	private post(
		told: { eventId: string; paymentRef: string },
		secret: string,
		atSeconds: number,
		isAltered = false
	): Promise<Response> {
		const body = new TextEncoder().encode(JSON.stringify(told));
		const path = new URL(this.url).pathname;
		const headers = {
			'content-type': 'application/json',
			...signMessage({ method: 'POST', path, body }, secret, atSeconds)
		};
		const sent = isAltered ? new TextEncoder().encode(JSON.stringify({ ...told, eventId: 'altered' })) : body;
		return fetch(this.url, {
			method: 'POST',
			headers,
			body: sent,
			signal: AbortSignal.timeout(ANSWER_WITHIN_MS)
		});
	}
}
