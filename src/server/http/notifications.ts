import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Using } from '../app';
import type { Transacting } from '../transact';
import { receiveNotification, type Received } from '../usecases/sales/receive-notification';

/** Called by processors, which send no origin and prove themselves by a signature. */
export const NOTIFICATION_PATH = '/api/payments/notifications';

const MESSAGES = {
	unsigned: 'The notification carries no signature over its method, path and digest.',
	forged: 'The signature does not fit the notification.',
	stale: 'The notification was signed too long ago. Send it again with a new signature.',
	unreadable: 'The notification names no event and payment.'
};

/**
 * Answers 2xx once the notification is stored; until then the processor repeats itself. On the first of a month they come by
 * the thousand: they are answered in front of what draws pages. The body is bounded before (bodies.ts).
 */
export async function answerNotification(
	app: Transacting & Using<'processors'>,
	req: IncomingMessage,
	res: ServerResponse
): Promise<void> {
	if (req.method !== 'POST') {
		res.setHeader('allow', 'POST');
		return answer(res, 405, { error: 'not-here', message: 'Notifications are sent here by POST.' });
	}
	const pieces: Buffer[] = [];
	for await (const piece of req) pieces.push(piece as Buffer);
	const received = await receiveNotification(app, 'card', {
		method: req.method,
		path: NOTIFICATION_PATH,
		header: (name) => [req.headers[name] ?? null].flat().join(', ') || null,
		body: Buffer.concat(pieces)
	});
	answer(res, statusOf(received), bodyOf(received));
}

function statusOf(received: Received): number {
	if (received.ok) return 200;
	return received.code === 'unreadable' ? 400 : 401;
}

function bodyOf(received: Received): object {
	if (received.ok) return { outcome: received.outcome };
	return { error: received.code, message: MESSAGES[received.code] };
}

function answer(res: ServerResponse, status: number, body: object): void {
	res.writeHead(status, { 'content-type': 'application/json', 'cache-control': 'no-store' });
	res.end(JSON.stringify(body));
}
