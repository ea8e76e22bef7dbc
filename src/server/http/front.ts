/**
 * What stands in front of the kit: one spelling of every address, the origin check, health, bytes and uploads.
 *
 * Gives `true` when it has answered; everything else goes on to the kit's handler.
 */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { normalisePath } from '$core/access/address';
import type { App } from '../app';
import { isMigrated } from '../db/migrate';
import { CLIENT_HEADER, clientReader } from './client';
import { mediaHandler } from './media/handler';
import { UPLOAD_PATH, uploadHandler } from './uploads';

/** At once where nothing has to be waited for: bytes that are asked for piece by piece are asked for very often. */
export type Front = (req: IncomingMessage, res: ServerResponse) => boolean | Promise<boolean>;

/** Called by machines, which send no origin and prove themselves otherwise. */
export const NOTIFICATION_PATH = '/api/payments/notifications';
/** Called with an API key, which no browser adds by itself. */
const API_PREFIX = '/api/v1/';

const SAFE_METHODS = new Set(['GET', 'HEAD', 'OPTIONS']);

export function createFront(app: App): Front {
	const media = mediaHandler(app);
	const uploads = uploadHandler(app);
	const host = new URL(app.settings.origin).host;
	const clientOf = clientReader(app.settings);

	return function front(req, res) {
		const client = clientOf(req);
		req.headers[CLIENT_HEADER] = client;
		const [rawPath = '/', query] = splitOnce(req.url ?? '/', '?');
		if (rawPath === '/healthz') return text(res, 200, 'ok');
		if (rawPath === '/readyz') return ready(app, res);
		const normal = normalisePath(rawPath);
		if (!normal.ok) return text(res, 400, 'This address cannot be read.');
		const isSafe = SAFE_METHODS.has(req.method ?? '');
		if (normal.path !== rawPath || (isSafe && req.headers.host !== host)) {
			const origin = req.headers.host === host ? '' : app.settings.origin;
			res.writeHead(308, { location: origin + normal.path + (query === undefined ? '' : `?${query}`) }).end();
			return true;
		}
		const isForMachines = normal.path === NOTIFICATION_PATH || normal.path.startsWith(API_PREFIX);
		if (!isSafe && !isForMachines && req.headers.origin !== app.settings.origin) {
			return text(
				res,
				403,
				'This form was sent from another site, so it was not taken. Open the page here and send it again.'
			);
		}
		return bytes(req, res, normal.path, client);
	};

	function bytes(
		req: IncomingMessage,
		res: ServerResponse,
		path: string,
		client: string
	): boolean | Promise<boolean> {
		const isMedia = path.startsWith('/media/');
		return (isMedia && media.again(req, res, path, client)) || decidedBytes(req, res, path, client);
	}

	async function decidedBytes(
		req: IncomingMessage,
		res: ServerResponse,
		path: string,
		client: string
	): Promise<boolean> {
		try {
			if (path.startsWith('/media/')) await media.answer(req, res, path, client);
			else if (path === UPLOAD_PATH || path.startsWith(UPLOAD_PATH + '/')) await uploads(req, res);
			else return false;
		} catch (error) {
			// Without the database there is no decision, and without a decision nothing is open.
			app.log.error({ err: error, path }, 'bytes could not be decided');
			if (res.headersSent) res.destroy();
			else text(res, 503, 'Stile cannot decide this right now. Try again in a moment.');
		}
		return true;
	}
}

async function ready(app: App, res: ServerResponse): Promise<true> {
	const checks = await Promise.all([
		named('database', app.pool.query('SELECT 1')),
		named('storage', app.storage.check()),
		named(
			'migrations',
			isMigrated(app.pool).then((done) => done || Promise.reject(new Error('missing')))
		)
	]);
	const isReady = checks.every((check) => check.ok);
	res.writeHead(isReady ? 200 : 503, { 'content-type': 'application/json', 'cache-control': 'no-store' });
	res.end(
		JSON.stringify({
			ready: isReady,
			...Object.fromEntries(checks.map((c) => [c.name, c.ok ? 'ok' : 'failing']))
		})
	);
	return true;
}

function named(name: string, check: Promise<unknown>): Promise<{ name: string; ok: boolean }> {
	return check.then(
		() => ({ name, ok: true }),
		() => ({ name, ok: false })
	);
}

function text(res: ServerResponse, status: number, body: string): true {
	res.writeHead(status, { 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'no-store' });
	res.end(body + '\n');
	return true;
}

function splitOnce(whole: string, separator: string): [string, string?] {
	const at = whole.indexOf(separator);
	return at < 0 ? [whole] : [whole.slice(0, at), whole.slice(at + separator.length)];
}
