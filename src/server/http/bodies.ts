/**
 * Bounds for what comes in: how long a body may be, how long it may take, and how many may be under way at once. Nobody
 * holds a connection by sending a letter a minute.
 */
import type { IncomingMessage, ServerResponse } from 'node:http';

const WITHIN_MS = 30_000;
const MOST_UNDER_WAY = 256;

export interface Refusal {
	status: 408 | 411 | 413 | 503;
	words: string;
}

export class Bodies {
	private underWay = 0;
	private readonly most: number;
	private readonly withinMs: number | null;

	constructor({
		most = MOST_UNDER_WAY,
		withinMs = WITHIN_MS
	}: { most?: number; withinMs?: number | null } = {}) {
		this.most = most;
		this.withinMs = withinMs;
	}

	/** `null`: it may come in, and is watched. @param mostBytes `null`: somebody else counts them */
	refuse(req: IncomingMessage, res: ServerResponse, mostBytes: number | null): Refusal | null {
		const length = req.headers['content-length'];
		const isChunked = req.headers['transfer-encoding'] !== undefined;
		if (!isChunked && (length === undefined || length === '0')) return null;
		if (mostBytes !== null && isChunked)
			return this.end(req, res, { status: 411, words: 'Say how long what you send is.' });
		if (mostBytes !== null && Number(length) > mostBytes)
			return this.end(req, res, { status: 413, words: 'This is more than any form here takes.' });
		if (this.underWay >= this.most)
			return this.end(req, res, {
				status: 503,
				words: 'Too much is being sent at this moment. Try again soon.'
			});
		this.watch(req, res);
		return null;
	}

	private watch(req: IncomingMessage, res: ServerResponse): void {
		this.underWay++;
		const timer =
			this.withinMs === null
				? null
				: setTimeout(() => {
						if (!res.headersSent) res.writeHead(408, { connection: 'close' }).end();
						req.destroy();
					}, this.withinMs);
		let isOver = false;
		const over = () => {
			if (isOver) return;
			isOver = true;
			this.underWay--;
			if (timer) clearTimeout(timer);
		};
		req.once('end', over);
		req.once('close', over);
		res.once('close', over);
	}

	/** What is not taken is not read either: the connection ends with the answer. */
	private end(req: IncomingMessage, res: ServerResponse, refusal: Refusal): Refusal {
		res.setHeader('connection', 'close');
		res.once('finish', () => req.destroy());
		return refusal;
	}
}
