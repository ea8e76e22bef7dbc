/** Sends stored bytes: conditional requests, ranges, and pieces of memory that all readers share (RFC 9110 §13, §14). */
import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { askedBytes, contentRange, lengthOf, type AskedBytes, type ByteRange } from '$core/media/byte-range';
import { heedsRange, precondition } from '$core/media/conditional';
import type { OpenBytes } from '../../ports/storage';
import { ReadMemory } from './read-memory';

export interface Sending {
	type: string;
	/** A strong tag: the bytes never change under it. */
	etag: string;
	cache: string;
	/** Beside those of the representation. */
	headers?: Record<string, string>;
	/** Told whenever bytes have gone to the socket. */
	onSent?: (bytes: number) => void;
	/** Says that what is being sent may be sent no more. */
	signal?: AbortSignal;
}

const memory = new ReadMemory();

/** What a request asks for, before anything is sent: whether it counts as a use depends on it. */
export function askedOf(req: IncomingMessage, bytes: OpenBytes, etag: string): AskedBytes {
	const ifRange = req.headers['if-range'];
	const isHeeded = heedsRange(typeof ifRange === 'string' ? ifRange : undefined, {
		etag,
		changedAt: bytes.changedAt
	});
	return askedBytes(isHeeded ? req.headers.range : undefined, bytes.size);
}

/** Answers GET and HEAD. The caller opens the bytes and closes them. */
export async function sendBytes(
	req: IncomingMessage,
	res: ServerResponse,
	bytes: OpenBytes,
	sending: Sending
): Promise<void> {
	const { etag, type, cache } = sending;
	const ours = { etag, changedAt: bytes.changedAt };
	const answer = precondition(
		{
			ifMatch: req.headers['if-match'],
			ifNoneMatch: req.headers['if-none-match'],
			ifModifiedSince: req.headers['if-modified-since'],
			ifUnmodifiedSince: req.headers['if-unmodified-since']
		},
		ours
	);
	const common: Record<string, string> = {
		etag,
		'last-modified': new Date(bytes.changedAt).toUTCString(),
		'accept-ranges': 'bytes',
		'cache-control': cache,
		'x-content-type-options': 'nosniff',
		...sending.headers
	};
	if (answer !== 'go-on') {
		res.writeHead(answer, common).end();
		return;
	}
	const asked = askedOf(req, bytes, etag);
	switch (asked.kind) {
		case 'unsatisfiable':
			res.writeHead(416, { ...common, 'content-range': `bytes */${bytes.size}`, 'content-length': 0 }).end();
			return;
		case 'whole':
			res.writeHead(200, { ...common, 'content-type': type, 'content-length': bytes.size });
			return sendRange(req, res, bytes, { first: 0, last: bytes.size - 1 }, sending, true);
		case 'part':
			res.writeHead(206, {
				...common,
				'content-type': type,
				'content-length': lengthOf(asked.range),
				'content-range': contentRange(asked.range, bytes.size)
			});
			return sendRange(req, res, bytes, asked.range, sending, true);
		case 'parts':
			return sendParts(req, res, bytes, asked.ranges, common, sending);
	}
}

/** RFC 9110 §14.6: multipart/byteranges. */
async function sendParts(
	req: IncomingMessage,
	res: ServerResponse,
	bytes: OpenBytes,
	ranges: readonly ByteRange[],
	common: Record<string, string>,
	sending: Sending
): Promise<void> {
	const boundary = randomBytes(16).toString('hex');
	const heads = ranges.map(
		(range, n) =>
			`${n === 0 ? '' : '\r\n'}--${boundary}\r\nContent-Type: ${sending.type}\r\nContent-Range: ${contentRange(range, bytes.size)}\r\n\r\n`
	);
	const end = `\r\n--${boundary}--\r\n`;
	const length = [...heads, end].reduce((sum, text) => sum + Buffer.byteLength(text), 0);
	res.writeHead(206, {
		...common,
		'content-type': `multipart/byteranges; boundary=${boundary}`,
		'content-length': length + ranges.reduce((sum, range) => sum + lengthOf(range), 0)
	});
	for (const [n, range] of ranges.entries()) {
		if (req.method !== 'HEAD') res.write(heads[n]);
		await sendRange(req, res, bytes, range, sending, false);
		if (res.destroyed) return;
	}
	res.end(req.method === 'HEAD' ? undefined : end);
}

async function sendRange(
	req: IncomingMessage,
	res: ServerResponse,
	bytes: OpenBytes,
	{ first, last }: ByteRange,
	sending: Sending,
	isLast: boolean
): Promise<void> {
	if (req.method === 'HEAD' || last < first) {
		if (isLast) res.end();
		return;
	}
	// A reader who takes nothing would keep a write waiting for ever.
	sending.signal?.addEventListener('abort', () => res.destroy(), { once: true });
	let position = first;
	let piece = await filled(bytes, position, last);
	while (position <= last) {
		if (sending.signal?.aborted || res.destroyed) {
			memory.giveBack(piece.buffer);
			res.destroy();
			return;
		}
		const { buffer, count } = piece;
		position += count;
		const isDone = position > last;
		const written = write(res, buffer.subarray(0, count), isDone && isLast);
		// The next piece is read while this one is on its way.
		const next = isDone ? null : filled(bytes, position, last);
		try {
			await written;
			sending.onSent?.(count);
		} catch (error) {
			if (next) memory.giveBack((await next).buffer);
			throw error;
		} finally {
			memory.giveBack(buffer);
		}
		if (next) piece = await next;
	}
}

async function filled(
	bytes: OpenBytes,
	position: number,
	last: number
): Promise<{ buffer: Buffer; count: number }> {
	const left = last - position + 1;
	const buffer = memory.take(left);
	try {
		const count = await bytes.read(buffer.length > left ? buffer.subarray(0, left) : buffer, position);
		// Fewer bytes than were promised cannot be mended: the reader must see that it broke off.
		if (count === 0) throw new Error('The stored bytes end before their length');
		return { buffer, count };
	} catch (error) {
		memory.giveBack(buffer);
		throw error;
	}
}

/** Ends when the bytes have left the memory; fails when the reader has gone. */
function write(res: ServerResponse, bytes: Buffer, isLast: boolean): Promise<void> {
	return new Promise((resolve, reject) => {
		const gone = () => reject(new ReaderGone());
		const done = (error?: Error | null) => {
			res.off('close', gone);
			if (error) reject(new ReaderGone());
			else resolve();
		};
		res.once('close', gone);
		if (isLast) {
			res.write(bytes, done);
			res.end();
		} else res.write(bytes, done);
	});
}

/** The reader went away: no fault of anybody. */
export class ReaderGone extends Error {
	readonly code = 'reader-gone';
}
