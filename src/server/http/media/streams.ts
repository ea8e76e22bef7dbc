/**
 * Streams: playlists and keys for one member, segments the same for all.
 *
 *   /media/stream/<proof>/watch: says at once when access ends; `?and=<proof>` watches others with it
 *   /media/stream/<proof>/master.m3u8 · <variant>/index.m3u8 · init.mp4 · <n>.m4s · <group>.key
 */
import { KeyPaces } from '../../usecases/library/key-pace';
import { setMaxListeners } from 'node:events';
import { setTimeout as wait } from 'node:timers/promises';
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Decision } from '$core/access/decision';
import { mayEmbed, deterrentsOf } from '$core/media/deterrents';

import { masterPlaylist, mediaPlaylist, PLAYLIST_TYPE } from '$core/media/playlist';
import { highestSpeed } from '$core/media/way';
import { memberOf, proofEnd, subjectOf, type Proof } from '$core/media/proof';
import { firstSeconds, keyGroupOf, type PreparedStream } from '$core/media/stream';
import type { App } from '../../app';
import type { Look } from '../../rights/look';
import { shownDeterrents, shownItem, shownWay, type ShownItem } from '../../rights/shown';
import type { OpenResponses } from '../bytes/open-responses';
import { admit, mayDeliver, teaserSeconds } from './admit';
import { refuse, send, sendStored } from './answers';

/** What of an asset's stream is needed to serve it. */
interface Served {
	folder: string;
	stream: PreparedStream;
	secret: { keyId: string; wrapped: string };
}

export const STREAM_PATH =
	/^\/media\/stream\/([A-Za-z0-9_.-]+)\/(?:(master\.m3u8|watch)|(v\d|a)\/(index\.m3u8|init\.mp4|(\d{1,6})\.m4s|(\d{1,6})\.key))$/;

/** Less than what proxies take for a dead connection. */
const STILL_EVERY_MS = 20_000;
/** Films in so many tabs of one browser are watched on one connection. */
const MOST_WATCHED = 20;

/** The address of the stream's master playlist for whoever looks; `null` where there is nothing to play for them. */
export async function streamAddress(
	app: App,
	look: Look,
	decision: Decision,
	{ item, asset }: ShownItem
): Promise<string | null> {
	if (!asset?.stream || look.otherSide) return null;
	const isTeaser = decision.verdict !== 'open' && teaserSeconds(decision) !== null;
	if (decision.verdict !== 'open' && !isTeaser) return null;
	const standing = look.memberId === null ? null : await app.rights.standing(look.memberId);
	const signed = app.keys.sign({
		itemId: item.id,
		assetId: asset.id,
		subject: subjectOf(look.memberId),
		epoch: standing?.epoch ?? 0,
		purpose: isTeaser ? 'teaser' : 'stream',
		end: proofEnd(decision.until, app.clock.business(), app.clock.wall()),
		useId: null,
		network: null
	});
	return `/media/stream/${signed}/master.m3u8`;
}

export function streamHandler(app: App, openResponses: OpenResponses) {
	const paces = new KeyPaces(app);

	/** Ends every watch, without a word on access. */
	const stopping = new AbortController();
	setMaxListeners(0, stopping.signal);

	async function answer(
		req: IncomingMessage,
		res: ServerResponse,
		match: RegExpExecArray,
		client: string
	): Promise<void> {
		const [, signed = '', master, variantId, fileName, segment, keyGroup] = match;
		const proof = app.keys.verify(signed);
		if (!proof || proof.purpose === 'file') return refuse(res, 404);
		const admitted = await admit(app, req, proof, client);
		if (!admitted.ok) return refuse(res, admitted.status);
		const found = await servedOf(app, proof);
		if (!found) return refuse(res, 404);
		const isSame = segment !== undefined || fileName === 'init.mp4';
		if (!isSame && !(await mayAsk(app, req, proof.itemId))) return refuse(res, 403);
		if (master === 'watch') {
			const others = new URL(req.url ?? '/', 'http://stile').searchParams.getAll('and');
			return watch(req, res, [signed, ...others.slice(0, MOST_WATCHED - 1)], client);
		}
		// A use begins where content is delivered, whichever address is asked first, and not where a link is opened.
		if (!(await mayDeliver(app, req, admitted.counted))) return refuse(res, 403);
		if (master) return send(res, PLAYLIST_TYPE, Buffer.from(masterPlaylist(found.stream)));
		const whole = found.stream.variants.find((v) => v.id === variantId);
		if (!whole) return refuse(res, 404);
		const variant = admitted.seconds === null ? whole : firstSeconds(whole, admitted.seconds);
		const segments = variant.segmentSeconds.length;
		if (keyGroup !== undefined) {
			if (Number(keyGroup) > keyGroupOf(segments - 1)) return refuse(res, 404);
			return key(req, res, proof, found, variant.id, Number(keyGroup), client);
		}
		if (isSame) {
			if (segment !== undefined && Number(segment) >= segments) return refuse(res, 404);
			const file = segment === undefined ? 'init.mp4' : `${Number(segment)}.m4s`;
			return sendStored(app, req, res, `${found.folder}/${variant.id}/${file}`, {
				type: segment === undefined ? 'video/mp4' : 'video/iso.segment',
				etag: `"${proof.assetId}-${found.folder.split('/').at(-1)}-${variant.id}-${file}"`,
				cache: 'private, no-store'
			});
		}
		return send(res, PLAYLIST_TYPE, Buffer.from(mediaPlaylist(variant)));
	}

	/**
	 * Server-sent events (HTML Standard §9.2): players are told before they ask for the next key that access has ended, or
	 * that the item shows something else. The data names the proof.
	 */
	async function watch(
		req: IncomingMessage,
		res: ServerResponse,
		watched: readonly string[],
		client: string
	): Promise<void> {
		res.writeHead(200, {
			'content-type': 'text/event-stream',
			'cache-control': 'no-store',
			// A web server in front must not collect what is said.
			'x-accel-buffering': 'no'
		});
		res.write(': open\n\n');
		const rest = setInterval(() => res.write(': still\n\n'), STILL_EVERY_MS);
		stopping.signal.addEventListener('abort', () => res.end(), { once: true });
		await Promise.all([...new Set(watched)].map((signed) => watchOne(req, res, signed, client)));
		clearInterval(rest);
		res.end();
	}

	async function watchOne(
		req: IncomingMessage,
		res: ServerResponse,
		signed: string,
		client: string
	): Promise<void> {
		const say = (event: 'revoked' | 'replaced' | null) => {
			// Where nothing could be decided the connection ends, and whoever watches asks again.
			if (event === null) res.end();
			else if (!res.writableEnded) res.write(`event: ${event}\ndata: ${signed}\n\n`);
		};
		const proof = app.keys.verify(signed);
		const folder = proof && proof.purpose !== 'file' ? (await servedOf(app, proof))?.folder : undefined;
		if (!proof || folder === undefined || !(await mayAsk(app, req, proof.itemId))) return say('replaced');
		const isAdmitted = async () => (await admit(app, req, proof, client)).ok;
		if (!(await isAdmitted())) return say('revoked');
		await openResponses.during(
			`watch ${proof.itemId} ${folder} ${memberOf(proof.subject)} ${proof.epoch} ${client}`,
			async () => (await isAdmitted()) && (await servedOf(app, proof))?.folder === folder,
			(signal) =>
				new Promise<void>((resolve) => {
					res.once('close', resolve);
					signal.addEventListener('abort', () => void said(isAdmitted).then(say).finally(resolve));
				})
		);
	}

	async function key(
		req: IncomingMessage,
		res: ServerResponse,
		proof: Proof,
		found: Served,
		variantId: string,
		group: number,
		client: string
	): Promise<void> {
		const { speed } = await paceOf(app, proof.itemId);
		// By member and item, whichever of their sessions asks; strangers by their address.
		const pace = await paces.take(memberOf(proof.subject) ?? client, proof.itemId, group, speed);
		if (pace.kind === 'refuse')
			return refuse(res, 429, { 'retry-after': String(Math.ceil(pace.retryAfterMs / 1000)) });
		if (pace.kind === 'give' && pace.afterMs > 0) {
			await wait(pace.afterMs);
			// What was open when it was asked for may be closed by now.
			const still = await admit(app, req, proof, client);
			if (!still.ok) return refuse(res, still.status);
		}
		return send(res, 'application/octet-stream', app.keys.streamKey(found.secret, variantId, group));
	}

	return { answer, endWatches: () => stopping.abort() };
}

/** Only a decision says that access has ended; where none could be taken nothing is said, and the player asks again. */
async function said(isAdmitted: () => Promise<boolean>): Promise<'revoked' | 'replaced' | null> {
	return isAdmitted().then(
		(isStill) => (isStill ? 'replaced' : 'revoked'),
		() => null
	);
}

async function servedOf(app: App, { itemId, assetId }: Proof): Promise<Served | null> {
	const asset = (await shownItem(app, itemId))?.asset;
	if (asset?.id !== assetId || !asset.stream || !asset.wrappedSecret) return null;
	return {
		folder: `prepared/${asset.id}/${asset.version}`,
		stream: asset.stream,
		secret: { keyId: asset.secretKeyId ?? '', wrapped: asset.wrappedSecret }
	};
}

/** Playlists and keys are for this site's own pages, and those that embed it. */
async function mayAsk(app: App, req: IncomingMessage, itemId: string): Promise<boolean> {
	const { deterrents } = await app.site();
	const { embedSites } = deterrentsOf(deterrents, (await shownDeterrents(app)).get(itemId) ?? null);
	return mayEmbed(embedSites, app.settings.origin, req.headers.referer);
}

async function paceOf(app: App, itemId: string): Promise<{ speed: number }> {
	const shown = await shownItem(app, itemId);
	return { speed: highestSpeed(await shownWay(app, shown?.item.wayId ?? null)) };
}
