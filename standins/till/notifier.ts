/** Signed notifications, repeated until they are answered with 2xx. */
import { signMessage } from '../../src/server/adapters/message-signature';
import type { Book, TillEvent } from './book';

const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 60_000;
const ANSWER_WITHIN_MS = 5000;

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
	}

	/** Everything that was not answered yet, the last first. */
	async letGo(): Promise<void> {
		for (const event of this.book.contents.events.filter((e) => !e.isAnswered).reverse())
			await this.deliver(event);
	}

	stop(): void {
		for (const timer of this.timers) clearTimeout(timer);
	}

	private async deliver(event: TillEvent): Promise<void> {
		event.tries++;
		event.isAnswered = await this.send(event);
		this.book.write();
		if (event.isAnswered || this.book.contents.delivery === 'kept-back') return;
		const wait = Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** Math.min(event.tries, 10));
		const timer = setTimeout(() => {
			this.timers.delete(timer);
			void this.deliver(event);
		}, wait);
		this.timers.add(timer);
	}

	private async send(event: TillEvent): Promise<boolean> {
		const body = new TextEncoder().encode(
			JSON.stringify({ eventId: event.id, paymentRef: event.paymentRef })
		);
		const path = new URL(this.url).pathname;
		const signature = signMessage({ method: 'POST', path, body }, this.secret, Math.floor(Date.now() / 1000));
		const headers = { 'content-type': 'application/json', ...signature };
		return fetch(this.url, {
			method: 'POST',
			headers,
			body,
			signal: AbortSignal.timeout(ANSWER_WITHIN_MS)
		}).then(
			(response) => response.ok,
			() => false
		);
	}
}
