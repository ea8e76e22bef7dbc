/**
 * Files, by signed links that a press made. All requests by one link are one use; a link that goes round is written down
 * with the networks that it was opened from.
 *
 *   /media/file/<proof>/<name>
 *
 * Who asks for a file in pieces asks again and again. What was decided for a link a moment ago is good for the next piece:
 * for less time than it takes a node to hear of a change, so that a refusal comes within a second as before.
 */
import type { IncomingMessage, ServerResponse } from 'node:http';
import contentDisposition from 'content-disposition';
import type { AskedBytes } from '$core/media/byte-range';
import { memberOf, type Proof } from '$core/media/proof';
import { isProbe, looksAhead } from '$core/media/uses';
import type { App } from '../../app';
import type { OpenBytes } from '../../ports/storage';
import { openAsset } from '../../usecases/library/contents';
import type { OpenResponses } from '../bytes/open-responses';
import { askedOf, isSmall, ReaderGone, sendBytes, sendSmall, type Sending } from '../bytes/send';
import { shownItem, type Asset } from '../../rights/shown';
import { admit, headerOf } from './admit';
import { redirectToStored, refuse } from './answers';
import { LinkLog } from '../../usecases/library/link-log';
import { UsesUnderWay, type UseUnderWay } from './uses-under-way';

export const FILE_PATH = /^\/media\/file\/([A-Za-z0-9_.-]+)\/([^/]+)$/;

const DECIDED_FOR_MS = 250;
const TICKETS_KEPT = 2000;
/** A ticket that nobody used for so long is given up, and the file closed. */
const IDLE_MS = 5000;

/** Types that browsers show without running anything of them on this site. */
const SHOWN_INLINE = new Set(['application/pdf', 'image/png', 'image/jpeg', 'image/webp', 'image/gif']);
/** What a browser might run: it is only ever saved, and not called by its name. */
const RUNS = /html|xml|svg|javascript|ecmascript|wasm/;

/** What is known of a link that is in use. */
interface Ticket {
	proof: Proof;
	client: string;
	/** Until then the decision is good. */
	goodUntil: number;
	usedAt: number;
	/** Answers under way that read from `bytes`. */
	readers: number;
	bytes: OpenBytes;
	sending: Sending;
	/** Where the web server in front finds it; `null`: Stile sends it. */
	redirect: string | null;
	use: UseUnderWay | null;
}

export function fileHandler(app: App, openResponses: OpenResponses) {
	const tickets = new Map<string, Ticket>();
	const uses = new UsesUnderWay(app);
	const links = new LinkLog(app);
	let timer: NodeJS.Timeout | null = null;

	/** Answers at once what was decided a moment ago; `false`: it must be decided. */
	function again(req: IncomingMessage, res: ServerResponse, path: string, client: string): boolean {
		const end = path.indexOf('/', PREFIX.length);
		const ticket = path.startsWith(PREFIX) ? tickets.get(path.slice(PREFIX.length, end)) : undefined;
		const now = app.clock.wall();
		if (!ticket || ticket.client !== client || now >= ticket.goodUntil || req.method !== 'GET') return false;
		if (isCounted(ticket) && !ticket.use?.isTaken) return false;
		const { redirect, bytes, sending } = ticket;
		if (redirect === null) {
			const asked = askedOf(req, bytes, sending.etag);
			if (!isSmall(req, asked)) return false;
			sendSmall(res, bytes, asked, sending, ticket.use);
		} else redirectToStored(res, redirect, sending);
		ticket.usedAt = now;
		links.again(ticket.proof, client);
		return true;
	}

	async function answer(
		req: IncomingMessage,
		res: ServerResponse,
		match: RegExpExecArray,
		client: string
	): Promise<void> {
		const [, signed = ''] = match;
		const proof = app.keys.verify(signed);
		if (!proof || proof.purpose !== 'file') return refuse(res, 404);
		const admitted = await admit(app, req, proof, client);
		if (!admitted.ok) return refuse(res, admitted.status);
		const shown = await shownItem(app, proof.itemId);
		const asset = shown?.asset;
		if (!shown || asset?.id !== proof.assetId || asset.state !== 'ready') return refuse(res, 404);
		links.opened(proof, client);
		const ticket = await ticketOf(signed, proof, client, asset, shown.item.opensInBrowser);
		if (!ticket) return refuse(res, 404);
		try {
			const asked = askedOf(req, ticket.bytes, ticket.sending.etag);
			if (!(await countUse(ticket, req, asked))) return refuse(res, 403);
			// A probe is answered without a use, and makes nothing of what follows it easier.
			const isGood = !isCounted(ticket) || ticket.use?.isTaken === true;
			if (isGood) ticket.goodUntil = Math.min(proof.end, app.clock.wall() + DECIDED_FOR_MS);
			if (ticket.redirect === null) return await sendWhole(req, res, ticket);
			ticket.use?.settled();
			redirectToStored(res, ticket.redirect, ticket.sending);
		} finally {
			if (asset.source !== null) ticket.bytes.close();
		}
	}

	async function sendWhole(req: IncomingMessage, res: ServerResponse, ticket: Ticket): Promise<void> {
		const { proof, client, bytes, sending, use } = ticket;
		use?.begun();
		ticket.readers++;
		try {
			await openResponses.during(
				`${proof.useId ?? proof.itemId} ${memberOf(proof.subject)} ${client}`,
				async () => (await admit(app, req, proof, client)).ok,
				(signal) =>
					sendBytes(req, res, bytes, {
						...sending,
						signal,
						onSent: (count) => use?.sent(count)
					})
			);
		} catch (error) {
			if (!(error instanceof ReaderGone)) throw error;
		} finally {
			use?.ended(bytes.size);
			ticket.readers--;
		}
	}

	/** `false`: the limit is reached. */
	async function countUse(ticket: Ticket, req: IncomingMessage, asked: AskedBytes): Promise<boolean> {
		const { useId, subject, itemId, assetId } = ticket.proof;
		const memberId = memberOf(subject);
		if (useId === null || memberId === null || ticket.use?.isTaken) return true;
		ticket.use = null;
		if (isProbe(req.method ?? 'GET', asked)) return true;
		if (looksAhead(headerOf(req, 'sec-purpose'))) return false;
		ticket.use = await uses.take({ useId, memberId, itemId, assetId });
		return ticket.use !== null;
	}

	async function ticketOf(
		signed: string,
		proof: Proof,
		client: string,
		asset: Asset,
		opensInBrowser: boolean
	): Promise<Ticket | null> {
		const now = app.clock.wall();
		const known = tickets.get(signed);
		if (known) {
			known.usedAt = now;
			known.client = client;
			return known;
		}
		const bytes = await openAsset(app, asset);
		if (!bytes) return null;
		const { redirectPrefix } = app.settings;
		const ticket: Ticket = {
			proof,
			client,
			goodUntil: 0,
			usedAt: now,
			readers: 0,
			bytes,
			sending: sendingOf(asset, opensInBrowser),
			redirect: redirectPrefix !== null && asset.source === null ? redirectPrefix + asset.originalKey : null,
			use: null
		};
		// Bytes that come from elsewhere are read by one reader at a time: each request opens its own.
		if (asset.source === null) {
			tickets.set(signed, ticket);
			timer ??= setInterval(sweep, IDLE_MS).unref();
			if (tickets.size > TICKETS_KEPT) sweep();
		}
		return ticket;
	}

	function sweep(): void {
		const before = app.clock.wall() - IDLE_MS;
		for (const [signed, ticket] of tickets) {
			const isNew = ticket.usedAt >= before && tickets.size <= TICKETS_KEPT;
			if (isNew || ticket.readers > 0) continue;
			tickets.delete(signed);
			ticket.bytes.close();
		}
		if (tickets.size === 0 && timer) {
			clearInterval(timer);
			timer = null;
		}
	}

	return { answer, again };
}

const PREFIX = '/media/file/';

function isCounted({ proof }: Ticket): boolean {
	return proof.useId !== null && proof.subject.kind === 'member';
}

function sendingOf(asset: Asset, opensInBrowser: boolean): Sending {
	const isShown = opensInBrowser && SHOWN_INLINE.has(asset.mediaType);
	return {
		type: RUNS.test(asset.mediaType) ? 'application/octet-stream' : asset.mediaType,
		etag: `"${asset.id}"`,
		cache: 'private, no-store',
		headers: {
			'content-disposition': contentDisposition(asset.fileName, { type: isShown ? 'inline' : 'attachment' }),
			// Whatever it is, it may do nothing here.
			'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; sandbox",
			'cross-origin-resource-policy': 'same-origin'
		}
	};
}
