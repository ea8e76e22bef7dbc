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
	/** Headers that all answers share, once they were made. */
	common?: Record<string, string>;
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

const AHEAD_FROM_BYTES = 256 * 1024;

/** Up to this a part is read and sent in one go. */
const SMALL_BYTES = 256 * 1024;
const CONDITIONS = ['if-match', 'if-none-match', 'if-modified-since', 'if-unmodified-since'] as const;

/** Whether a request is for one small part, without conditions. */
export function isSmall(
	req: IncomingMessage,
	asked: AskedBytes
): asked is Extract<AskedBytes, { kind: 'part' }> {
	return (
		asked.kind === 'part' &&
		lengthOf(asked.range) <= SMALL_BYTES &&
		CONDITIONS.every((name) => req.headers[name] === undefined)
	);
}

/** Sends one small part: what is decided twice a second for a long answer is over here before it could be asked. */
export function sendSmall(
	res: ServerResponse,
	bytes: OpenBytes,
	asked: AskedBytes,
	sending: Sending,
	use: { begun(): void; sent(bytes: number): void; ended(size: number): void } | null
): void {
	if (asked.kind !== 'part') throw new TypeError('Only one part is sent in one go');
	const { range } = asked;
	const length = lengthOf(range);
	const buffer = memory.take(length);
	const ended = () => {
		memory.giveBack(buffer);
		use?.ended(bytes.size);
	};
	use?.begun();
	bytes.read(buffer.length > length ? buffer.subarray(0, length) : buffer, range.first).then(
		(count) => {
			if (count < length || res.destroyed) {
				ended();
				res.destroy();
				return;
			}
			res.writeHead(206, {
				...commonHeaders(bytes, sending),
				'content-type': sending.type,
				'content-length': length,
				'content-range': contentRange(range, bytes.size)
			});
			let isOver = false;
			const over = () => {
				if (isOver) return;
				isOver = true;
				ended();
			};
			res.once('close', over);
			res.end(buffer.subarray(0, length), () => {
				use?.sent(length);
				over();
			});
		},
		() => {
			ended();
			res.destroy();
		}
	);
}

/** The same for all answers of one representation, so they are made once. */
function commonHeaders(bytes: OpenBytes, sending: Sending): Record<string, string> {
	return (sending.common ??= {
		etag: sending.etag,
		'last-modified': new Date(bytes.changedAt).toUTCString(),
		'accept-ranges': 'bytes',
		'cache-control': sending.cache,
		'x-content-type-options': 'nosniff',
		...sending.headers
	});
}

/** Answers GET and HEAD. The caller opens the bytes and closes them. */
export async function sendBytes(
	req: IncomingMessage,
	res: ServerResponse,
	bytes: OpenBytes,
	sending: Sending
): Promise<void> {
	const { etag, type } = sending;
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
	const common = commonHeaders(bytes, sending);
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
	// Reset, not closed: what waits in the machine's own buffers is dropped, too, some megabytes for a slow reader.
	sending.signal?.addEventListener('abort', () => res.socket?.resetAndDestroy(), { once: true });
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
		// For a quick reader the next piece is read while this one is on its way; many slow ones hold one piece each.
		const next = isDone || count < AHEAD_FROM_BYTES ? null : filled(bytes, position, last);
		// It may fail before it is waited for: a store that is gone says so at once, a slow reader takes long.
		next?.catch(() => {});
		try {
			await written;
			sending.onSent?.(count);
		} catch (error) {
			next?.then(
				({ buffer: unused }) => memory.giveBack(unused),
				() => {}
			);
			throw error;
		} finally {
			memory.giveBack(buffer);
		}
		if (!isDone) piece = await (next ?? filled(bytes, position, last));
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
