/**
 * What stands in front of the kit: headers of every answer, one spelling of every address, the origin check, bounds for what
 * comes in, health, bytes, uploads and notifications of payments.
 *
 * Gives `true` when it has answered; everything else goes on to the kit's handler.
 */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { normalisePath } from '$core/access/address';
import type { App, Practice } from '../app';
import { Bodies } from './bodies';
import { CLIENT_HEADER, clientReader } from './client';
import { deskNews, NEWS_PATH } from './desk-news';
import { mediaHandler } from './media/handler';
import { saysPractice } from './cookies';
import { answerNotification, NOTIFICATION_PATH } from './notifications';
import { practisedBy } from './practised';
import { readiness } from './readiness';
import { securityHeaders } from './security-headers';
import { UPLOAD_PATH, createUploads } from './uploads';

export interface Serving {
	/** Ends what would never end by itself, so that Stile can stop: players ask again elsewhere. */
	endWatches(): void;
	/** Receives uploads that came whole and were left. */
	receiveLeft(): Promise<number>;
}

/** At once where nothing has to be waited for: bytes that are asked for piece by piece are asked for very often. */
export type Front = (req: IncomingMessage, res: ServerResponse) => boolean | Promise<boolean>;

/** Called by mail programs for whoever pressed there (RFC 8058 §3.2): the address itself is the proof. */
const MAILS_PREFIX = '/mails/';
/** Called with an API key, which no browser adds by itself. */
const API_PREFIX = '/api/v1/';

const SAFE_METHODS = new Set(['GET', 'HEAD', 'OPTIONS']);

export function createFront(stile: { app: App; practice: Practice }): Front & Serving {
	const { app } = stile;
	const own = { media: mediaHandler(app), news: deskNews(app) };
	/** The same of the practice book, while it is open. */
	let practising: { of: App; does: typeof own } | null = null;
	const uploads = createUploads(app);
	const ready = readiness(app);
	const bodies = new Bodies();
	const uploading = new Bodies({ most: MOST_UPLOADS, withinMs: null });
	const headers = securityHeaders(app.settings);
	const { host } = new URL(app.settings.origin);
	const clientOf = clientReader(app.settings);

	const front: Front = (req, res) => {
		for (const [name, value] of headers) res.setHeader(name, value);
		if (!readTarget(req)) return text(res, 400, 'This address cannot be read.');
		const client = clientOf(req);
		if (client === null) {
			app.log.error('the web server in front names no client: see STILE_CLIENT_ADDRESS_HEADER');
			return text(res, 400, 'The web server in front does not say where this request comes from.');
		}
		req.headers[CLIENT_HEADER] = client;
		const [rawPath = '/', query] = splitOnce(req.url ?? '/', '?');
		if (rawPath === '/healthz') return text(res, 200, 'ok');
		if (rawPath === '/readyz') return ready(res);
		const normal = normalisePath(rawPath);
		if (!normal.ok) return text(res, 400, 'This address cannot be read.');
		const isSafe = SAFE_METHODS.has(req.method ?? '');
		if (normal.path !== rawPath || (isSafe && req.headers.host !== host)) {
			const origin = req.headers.host === host ? '' : app.settings.origin;
			res.writeHead(308, { location: origin + normal.path + (query === undefined ? '' : `?${query}`) }).end();
			return true;
		}
		const isForMachines =
			normal.path === NOTIFICATION_PATH ||
			[API_PREFIX, MAILS_PREFIX].some((one) => normal.path.startsWith(one));
		if (!isSafe && !isForMachines && req.headers.origin !== app.settings.origin) {
			return text(
				res,
				403,
				'This form was sent from another site, so it was not taken. Open the page here and send it again.'
			);
		}
		const isUpload = isWithin(normal.path, UPLOAD_PATH);
		const isDesk = isWithin(normal.path, '/desk');
		const refusal = isUpload
			? uploading.refuse(req, res, null)
			: bodies.refuse(req, res, isDesk ? null : MOST_BYTES);
		if (refusal) return text(res, refusal.status, refusal.words);
		// The older header allows no exceptions: pages that may be framed name their sites in the newer one.
		if (normal.path.startsWith('/embed/')) res.removeHeader('x-frame-options');
		return bytes(req, res, normal.path, client);
	};
	return Object.assign(front, { endWatches, receiveLeft: uploads.receiveLeft });

	function endWatches(): void {
		for (const { media, news } of [own, ...(practising ? [practising.does] : [])]) {
			media.endWatches();
			news.end();
		}
	}

	async function doersFor(req: IncomingMessage): Promise<typeof own> {
		const book = await practisedBy(stile, req.headers.cookie);
		if (!book) return own;
		if (practising?.of !== book.app) {
			const does = { media: mediaHandler(book.app), news: deskNews(app, book.app) };
			practising = { of: book.app, does };
		}
		return practising.does;
	}

	function bytes(
		req: IncomingMessage,
		res: ServerResponse,
		path: string,
		client: string
	): boolean | Promise<boolean> {
		const isMedia = path.startsWith('/media/') && !saysPractice(req.headers.cookie);
		return (isMedia && own.media.again(req, res, path, client)) || decidedBytes(req, res, path, client);
	}

	async function decidedBytes(
		req: IncomingMessage,
		res: ServerResponse,
		path: string,
		client: string
	): Promise<boolean> {
		try {
			if (path.startsWith('/media/')) await (await doersFor(req)).media.answer(req, res, path, client);
			else if (isWithin(path, UPLOAD_PATH)) await uploads.handle(req, res);
			else if (path === NEWS_PATH) await (await doersFor(req)).news.answer(req, res);
			else if (path === NOTIFICATION_PATH) await answerNotification(app, req, res);
			else return false;
		} catch (error) {
			// Without the database there is no decision, and without a decision nothing is open.
			app.log.error({ err: error, path }, 'what stands in front of the pages failed');
			if (res.headersSent) res.destroy();
			else text(res, 503, 'Stile cannot decide this right now. Try again in a moment.');
		}
		return true;
	}
}

/** Larger than any form of the front, and than any notification. The Desk's are bounded by the kit. */
const MOST_BYTES = 64 * 1024;
const MOST_UPLOADS = 32;

/** RFC 9112 §3.2.2: a whole address as target is served, and its host counts instead of the header's. */
function readTarget(req: IncomingMessage): boolean {
	const target = req.url ?? '/';
	if (target.startsWith('/') || target === '*') return true;
	const whole = /^https?:\/\/([^/?#]+)([^#]*)$/i.exec(target);
	if (!whole) return false;
	req.headers.host = whole[1]?.toLowerCase() ?? '';
	req.url = whole[2]?.startsWith('/') ? whole[2] : `/${whole[2] ?? ''}`;
	return true;
}

function isWithin(path: string, root: string): boolean {
	return path === root || path.startsWith(`${root}/`);
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
