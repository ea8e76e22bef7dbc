/** How bytes are answered: made here, read from storage, or left to the web server in front. */
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { App } from '../../app';
import { sendBytes, type Sending } from '../bytes/send';

export type Refusal = 401 | 403 | 404 | 429;

const WORDS: Record<Refusal, string> = {
	401: 'Closed\n',
	403: 'Closed\n',
	404: 'Not found\n',
	429: 'Too fast\n'
};

export function refuse(res: ServerResponse, status: Refusal, headers: Record<string, string> = {}): void {
	res.writeHead(status, {
		'content-type': 'text/plain; charset=utf-8',
		'cache-control': 'no-store',
		...headers
	});
	res.end(WORDS[status]);
}

export function send(res: ServerResponse, type: string, body: Buffer): void {
	res.writeHead(200, {
		'content-type': type,
		'content-length': body.length,
		'cache-control': 'private, no-store',
		'x-content-type-options': 'nosniff'
	});
	res.end(body);
}

/** Sends what lies in storage under a key. */
export async function sendStored(
	app: App,
	req: IncomingMessage,
	res: ServerResponse,
	key: string,
	sending: Sending
): Promise<void> {
	if (app.settings.redirectPrefix !== null)
		return redirectToStored(res, app.settings.redirectPrefix + key, sending);
	const bytes = await app.storage.open(key);
	if (!bytes) return refuse(res, 404);
	try {
		await sendBytes(req, res, bytes, sending);
	} finally {
		bytes.close();
	}
}

/** The web server in front sends the file, with ranges, conditions and the other headers by its own means. */
export function redirectToStored(res: ServerResponse, path: string, sending: Sending): void {
	res.writeHead(200, {
		'content-type': sending.type,
		'content-length': 0,
		'cache-control': sending.cache,
		'content-disposition': sending.headers?.['content-disposition'] ?? 'inline',
		'x-accel-redirect': path
	});
	res.end();
}
