/**
 * Bytes of streams and posters. Every request shows a proof, and the proof is not enough: the placement must exist and
 * the member must still be let in at this moment, by the policy and the grants in memory.
 *
 *   /media/stream/<proof>/master.m3u8 · <variant>/index.m3u8 · init.mp4 · <n>.m4s · <group>.key
 *   /media/poster/<item>
 */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { pipeline } from 'node:stream/promises';
import { masterPlaylist, mediaPlaylist, PLAYLIST_TYPE } from '$core/media/playlist';
import { proofEnd, type Proof } from '$core/media/proof';
import { keyGroupOf, type PreparedStream } from '$core/media/stream';
import type { App } from '../app';
import { cookieValue, hashOf, sessionCookie } from './sessions';
import { shownItem } from './shown';

type Refusal = 401 | 403 | 404;

/** What of an asset's stream is needed to serve it. */
interface Served {
	folder: string;
	stream: PreparedStream;
	secret: { keyId: string; wrapped: string };
}

const POSTER_MAX_AGE_SECONDS = 300;
const STREAM_PATH =
	/^\/media\/stream\/([A-Za-z0-9_.-]+)\/(?:(master\.m3u8)|(v\d|a)\/(index\.m3u8|init\.mp4|(\d{1,6})\.m4s|(\d{1,6})\.key))$/;
const POSTER_PATH = /^\/media\/poster\/([0-9a-f-]{36})$/;

/** The address of the stream's master playlist, for a member (or a stranger: `null`) whose decision is open. */
export async function streamAddress(
	app: App,
	itemId: string,
	memberId: string | null
): Promise<string | null> {
	const decision = await app.rights.decide(memberId, itemId);
	const asset = (await shownItem(app, itemId))?.asset;
	if (decision.verdict !== 'open' || asset?.state !== 'ready') return null;
	const standing = memberId === null ? null : await app.rights.standing(memberId);
	const signed = app.keys.sign({
		itemId,
		assetId: asset.id,
		memberId,
		epoch: standing?.epoch ?? 0,
		purpose: 'stream',
		end: proofEnd(decision.until, app.clock.business(), app.clock.wall())
	});
	return `/media/stream/${signed}/master.m3u8`;
}

export function mediaHandler(app: App) {
	async function servedOf(itemId: string, assetId: string): Promise<Served | null> {
		const asset = (await shownItem(app, itemId))?.asset;
		if (asset?.id !== assetId || asset.state !== 'ready' || !asset.stream || !asset.wrappedSecret)
			return null;
		return {
			folder: `prepared/${asset.id}/${asset.version}`,
			stream: asset.stream,
			secret: { keyId: asset.secretKeyId ?? '', wrapped: asset.wrappedSecret }
		};
	}

	/** A stream is for the member's own devices: an address that was passed on opens nothing. */
	async function isOwnDevice(req: IncomingMessage, proof: Proof): Promise<boolean> {
		if (proof.memberId === null) return true;
		const token = cookieValue(req.headers.cookie, sessionCookie(app.settings.origin));
		return token !== null && (await app.rights.sessionAccount(hashOf(token))) === proof.memberId;
	}

	async function refusalOf(req: IncomingMessage, proof: Proof | null): Promise<Refusal | null> {
		if (!proof) return 404;
		if (app.clock.wall() >= proof.end) return 403;
		const standing = proof.memberId === null ? null : await app.rights.standing(proof.memberId);
		if (proof.memberId !== null && standing?.epoch !== proof.epoch) return 403;
		const decision = await app.rights.decide(proof.memberId, proof.itemId);
		if (decision.verdict !== 'open') return 403;
		return (await isOwnDevice(req, proof)) ? null : 401;
	}

	async function stream(req: IncomingMessage, res: ServerResponse, match: RegExpExecArray): Promise<void> {
		const [, signed = '', master, variantId, , segment, keyGroup] = match;
		const proof = app.keys.verify(signed);
		const refusal = await refusalOf(req, proof);
		if (refusal || !proof) return refuse(res, refusal ?? 404);
		const found = await servedOf(proof.itemId, proof.assetId);
		if (!found) return refuse(res, 404);
		if (master) return send(res, PLAYLIST_TYPE, Buffer.from(masterPlaylist(found.stream)));
		const variant = found.stream.variants.find((v) => v.id === variantId);
		if (!variant) return refuse(res, 404);
		const segments = variant.segmentSeconds.length;
		if (keyGroup !== undefined) {
			if (Number(keyGroup) > keyGroupOf(segments - 1)) return refuse(res, 404);
			return send(
				res,
				'application/octet-stream',
				app.keys.streamKey(found.secret, variant.id, Number(keyGroup))
			);
		}
		if (segment !== undefined) {
			if (Number(segment) >= segments) return refuse(res, 404);
			return sendFile(
				app,
				req,
				res,
				`${found.folder}/${variant.id}/${Number(segment)}.m4s`,
				'video/iso.segment',
				'no-store'
			);
		}
		if (match[4] === 'init.mp4')
			return sendFile(app, req, res, `${found.folder}/${variant.id}/init.mp4`, 'video/mp4', 'no-store');
		return send(res, PLAYLIST_TYPE, Buffer.from(mediaPlaylist(variant)));
	}

	/** Those who are turned away see the poster only if the publisher shows it, and never of what is absent. */
	async function poster(req: IncomingMessage, res: ServerResponse, itemId: string): Promise<void> {
		const token = cookieValue(req.headers.cookie, sessionCookie(app.settings.origin));
		const memberId = token === null ? null : await app.rights.sessionAccount(hashOf(token));
		if (!(await mayShowPoster(app, memberId, itemId))) return refuse(res, 404);
		const asset = (await shownItem(app, itemId))?.asset;
		if (asset?.state !== 'ready') return refuse(res, 404);
		const cache = `private, max-age=${POSTER_MAX_AGE_SECONDS}`;
		return sendFile(app, req, res, `prepared/${asset.id}/${asset.version}/poster.jpg`, 'image/jpeg', cache);
	}

	return async function media(req: IncomingMessage, res: ServerResponse, path: string): Promise<void> {
		if (req.method !== 'GET' && req.method !== 'HEAD') {
			res.writeHead(405, { allow: 'GET, HEAD' }).end();
			return;
		}
		const stillImage = POSTER_PATH.exec(path);
		if (stillImage?.[1]) return poster(req, res, stillImage[1]);
		const match = STREAM_PATH.exec(path);
		return match ? stream(req, res, match) : refuse(res, 404);
	};
}

/** Whether a viewer may see the picture that stands for an item. */
export async function mayShowPoster(app: App, memberId: string | null, itemId: string): Promise<boolean> {
	const decision = await app.rights.decide(memberId, itemId);
	if (decision.verdict === 'open') return true;
	const policy = await app.rights.policy();
	if (decision.turnAway.kind === 'absent' || !policy.items.has(itemId)) return false;
	return (await shownItem(app, itemId))?.item.showsPoster ?? false;
}

function send(res: ServerResponse, type: string, body: Buffer): void {
	res.writeHead(200, {
		'content-type': type,
		'content-length': body.length,
		'cache-control': 'private, no-store',
		'x-content-type-options': 'nosniff'
	});
	res.end(body);
}

async function sendFile(
	app: App,
	req: IncomingMessage,
	res: ServerResponse,
	key: string,
	type: string,
	cache: string
): Promise<void> {
	const file = await app.storage.read(key);
	if (!file) return refuse(res, 404);
	res.writeHead(200, {
		'content-type': type,
		'content-length': file.bytes,
		'cache-control': cache,
		'x-content-type-options': 'nosniff'
	});
	if (req.method === 'HEAD') {
		res.end();
		return;
	}
	// A reader who goes away ends the pipeline; that is no error.
	await pipeline(file.stream(), res).catch(() => res.destroy());
}

function refuse(res: ServerResponse, status: Refusal): void {
	res.writeHead(status, { 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'no-store' });
	res.end(status === 404 ? 'Not found\n' : 'Closed\n');
}
