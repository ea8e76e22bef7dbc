/**
 * Requests to addresses that somebody typed. A name is resolved once and the connection goes to what was found, so that it
 * cannot lead elsewhere the second time; whatever is not public is refused, after each redirect again.
 */
import { lookup } from 'node:dns/promises';
import { request as plainRequest, type IncomingMessage } from 'node:http';
import { request as tlsRequest } from 'node:https';
import { isPublic } from '$core/media/network';
import { OutboundError, type Outbound, type Posted } from '../ports/outbound';
import { streamedBytes } from './streamed-bytes';

const MAX_REDIRECTS = 5;
/** Without a word for so long, and it is given up. */
const ANSWER_WITHIN_MS = 10_000;
/** All redirects together, up to the first byte of the answer. */
const HEAD_WITHIN_MS = 20_000;
/** The whole of what is read; the slowest reader of a film has it by then. */
const BODY_WITHIN_MS = 6 * 3_600_000;
const MAX_BYTES = 100 * 1024 ** 3;
const POST_WITHIN_MS = 15_000;
/** Of an answer that only says whether something was taken. */
const ANSWER_BYTES_READ = 4096;
const ANSWER_CHARACTERS = 300;

/**
 * @param allowedHosts `host:port` that may be reached although they are private
 * @param postWithinMs a whole call, from the name that is looked up to the first words of the answer
 */
export function pinnedOutbound(
	allowedHosts: readonly string[],
	postWithinMs: number = POST_WITHIN_MS
): Outbound {
	async function ask(
		text: string,
		method: 'GET' | 'HEAD',
		headers: Record<string, string>
	): Promise<{ response: IncomingMessage; url: string }> {
		const deadline = AbortSignal.timeout(HEAD_WITHIN_MS);
		let url = text;
		for (let n = 0; n <= MAX_REDIRECTS; n++) {
			const target = readUrl(url);
			const address = await addressOf(target, deadline);
			const response = await once(target, address, { method, headers }, deadline);
			const { statusCode = 0, headers: found } = response;
			if (statusCode < 300 || statusCode >= 400 || !found.location) return { response, url };
			response.destroy();
			url = new URL(found.location, target).toString();
		}
		throw new OutboundError('too-many-redirects', `This address sends on more than ${MAX_REDIRECTS} times.`);
	}

	async function addressOf(url: URL, deadline: AbortSignal): Promise<string> {
		const host = url.hostname.replace(/^\[|\]$/g, '');
		const found = await before(deadline, lookup(host, { all: true })).catch((cause: unknown) => {
			if (cause instanceof OutboundError) throw cause;
			throw new OutboundError('unreachable', `There is no host ${host}.`, { cause });
		});
		const isAllowed = allowedHosts.includes(url.host);
		// All of them: one public address among private ones is a trap.
		if (!isAllowed && !found.every(({ address }) => isPublic(address)))
			throw new OutboundError('private-address', `${host} is not a public address.`);
		const [first] = found;
		if (!first) throw new OutboundError('unreachable', `There is no host ${host}.`);
		return first.address;
	}

	async function head(url: string) {
		// Some servers answer HEAD wrongly: a GET of one byte says the same.
		const { response, url: last } = await ask(url, 'GET', { range: 'bytes=0-0' });
		const { statusCode = 0, headers } = response;
		response.destroy();
		if (statusCode !== 200 && statusCode !== 206)
			throw new OutboundError('refused', `The other server answered ${statusCode}.`);
		const total = /\/(\d+)$/.exec(headers['content-range'] ?? '')?.[1] ?? headers['content-length'];
		const bytes = total === undefined ? null : Number(total);
		if (bytes !== null && bytes > MAX_BYTES)
			throw new OutboundError('too-large', 'What is at this address is larger than 100 GB.');
		return {
			url: last,
			bytes,
			mediaType: headers['content-type']?.split(';')[0]?.trim().toLowerCase() ?? null,
			hasRanges: statusCode === 206,
			changedAt: Date.parse(headers['last-modified'] ?? '') || 0
		};
	}

	async function post(text: string, body: Uint8Array, headers: Record<string, string>): Promise<Posted> {
		const deadline = AbortSignal.timeout(postWithinMs);
		const url = readUrl(text);
		const length = { 'content-length': String(body.byteLength) };
		const sent = { method: 'POST' as const, headers: { ...headers, ...length }, body };
		const response = await once(url, await addressOf(url, deadline), sent, deadline);
		return { status: response.statusCode ?? 0, answer: await firstWords(response, deadline) };
	}

	return {
		head,
		post,
		async open(url) {
			const found = await head(url);
			if (found.bytes === null)
				throw new OutboundError('refused', 'The other server does not say how long it is.');
			return streamedBytes({
				size: found.bytes,
				changedAt: found.changedAt,
				async from(first) {
					if (first > 0 && !found.hasRanges)
						throw new OutboundError('refused', 'The other server does not send parts.');
					const { response } = await ask(url, 'GET', first > 0 ? { range: `bytes=${first}-` } : {});
					if (response.statusCode !== (first > 0 ? 206 : 200)) {
						response.destroy();
						throw new OutboundError('refused', `The other server answered ${response.statusCode}.`);
					}
					return response;
				}
			});
		}
	};
}

function readUrl(text: string): URL {
	let url: URL;
	try {
		url = new URL(text);
	} catch (cause) {
		throw new OutboundError('not-an-address', 'This is no address.', { cause });
	}
	if ((url.protocol !== 'http:' && url.protocol !== 'https:') || url.username !== '' || url.password !== '')
		throw new OutboundError('not-an-address', 'Only http and https addresses without a password are taken.');
	return url;
}

function tooSlow(): OutboundError {
	return new OutboundError('too-slow', 'The other server is too slow.');
}

/** Whatever comes first: names are looked up without an end of their own. */
function before<T>(deadline: AbortSignal, work: Promise<T>): Promise<T> {
	return new Promise((resolve, reject) => {
		if (deadline.aborted) return reject(tooSlow());
		deadline.addEventListener('abort', () => reject(tooSlow()), { once: true });
		work.then(resolve, reject);
	});
}

function once(
	url: URL,
	address: string,
	{
		method,
		headers,
		body
	}: { method: 'GET' | 'HEAD' | 'POST'; headers: Record<string, string>; body?: Uint8Array },
	deadline: AbortSignal
): Promise<IncomingMessage> {
	return new Promise((resolve, reject) => {
		const send = url.protocol === 'https:' ? tlsRequest : plainRequest;
		const request = send(
			url,
			{
				method,
				headers: { 'user-agent': 'Stile', 'accept-encoding': 'identity', ...headers },
				timeout: ANSWER_WITHIN_MS,
				// The connection goes to the address that was looked at, whatever the name says by now.
				lookup: (_host, options, done) => {
					const family = address.includes(':') ? 6 : 4;
					if (options.all) done(null, [{ address, family }]);
					else done(null, address, family);
				}
			},
			(response) => {
				deadline.removeEventListener('abort', late);
				const end = setTimeout(() => response.destroy(tooSlow()), BODY_WITHIN_MS).unref();
				response.once('close', () => clearTimeout(end));
				resolve(response);
			}
		);
		const late = () => request.destroy(tooSlow());
		deadline.addEventListener('abort', late, { once: true });
		request.on('timeout', () => request.destroy(tooSlow()));
		request.on('error', (cause) =>
			reject(
				cause instanceof OutboundError
					? cause
					: new OutboundError('unreachable', `${url.host} cannot be reached.`, { cause })
			)
		);
		request.end(body);
	});
}

/** As much of an answer as is worth showing; whoever goes on writing writes to nobody. */
async function firstWords(response: IncomingMessage, deadline: AbortSignal): Promise<string> {
	const late = () => response.destroy();
	deadline.addEventListener('abort', late, { once: true });
	const chunks: Buffer[] = [];
	let bytes = 0;
	try {
		for await (const chunk of response as AsyncIterable<Buffer>) {
			chunks.push(chunk);
			bytes += chunk.length;
			if (bytes >= ANSWER_BYTES_READ) break;
		}
	} catch {
		// What it said first, its status, is there: how it went on does not matter.
	} finally {
		deadline.removeEventListener('abort', late);
		response.destroy();
	}
	const text = Buffer.concat(chunks).subarray(0, ANSWER_BYTES_READ).toString('utf8');
	return text
		.replace(/[\p{C}\s]+/gu, ' ')
		.trim()
		.slice(0, ANSWER_CHARACTERS);
}
