import { json } from '@sveltejs/kit';
import { receiveNotification } from '$server/usecases/sales/receive-notification';
import type { RequestHandler } from './$types';

const MESSAGES = {
	unsigned: 'The notification carries no signature over its method, path and digest.',
	forged: 'The signature does not fit the notification.',
	stale: 'The notification was signed too long ago. Send it again with a new signature.',
	unreadable: 'The notification names no event and payment.'
};

/** Answers 2xx once the notification is stored; until then the processor repeats itself. */
export const POST: RequestHandler = async ({ locals: { app }, request, url }) => {
	const received = await receiveNotification(app, 'card', {
		method: request.method,
		path: url.pathname,
		header: (name) => request.headers.get(name),
		body: new Uint8Array(await request.arrayBuffer())
	});
	if (received.ok) return json({ outcome: received.outcome });
	return json(
		{ error: received.code, message: MESSAGES[received.code] },
		{ status: received.code === 'unreadable' ? 400 : 401 }
	);
};
