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
import { firstSeconds, keyGroupOf, type PreparedStream } from '$core/media/stream';
import type { Decision, Denied } from '$core/access/decision';
import type { App } from '../app';
import { cookieValue, hashOf, sessionCookie } from './sessions';
import { shownItem, type ShownItem } from './shown';
import type { Look } from './look';
import { takeUse } from '../usecases/library/take-use';
import { CODE_COOKIE } from './cookies';

type Refusal = 401 | 403 | 404;

type Admitted = { ok: true; seconds: number | null; isCounted: boolean } | { ok: false; status: Refusal };

/** What of an asset's stream is needed to serve it. */
interface Served {
	folder: string;
	stream: PreparedStream;
	secret: { keyId: string; wrapped: string };
}

const POSTER_MAX_AGE_SECONDS = 300;
/** Segments are about this size: up to it a file is read at once. */
const WHOLE_BYTES = 1 << 20;
const STREAM_PATH =
	/^\/media\/stream\/([A-Za-z0-9_.-]+)\/(?:(master\.m3u8)|(v\d|a)\/(index\.m3u8|init\.mp4|(\d{1,6})\.m4s|(\d{1,6})\.key))$/;
const POSTER_PATH = /^\/media\/poster\/([0-9a-f-]{36})$/;

/** The address of the stream's master playlist for whoever looks; `null` where there is nothing to play for them. */
export async function streamAddress(
	app: App,
	look: Look,
	decision: Decision,
	{ item, asset }: ShownItem
): Promise<string | null> {
	if (asset?.state !== 'ready' || look.otherSide) return null;
	const isTeaser = decision.verdict !== 'open' && teaserSeconds(decision) !== null;
	if (decision.verdict !== 'open' && !isTeaser) return null;
	const standing = look.memberId === null ? null : await app.rights.standing(look.memberId);
	const signed = app.keys.sign({
		itemId: item.id,
		assetId: asset.id,
		memberId: look.memberId,
		epoch: standing?.epoch ?? 0,
		purpose: isTeaser ? 'teaser' : 'stream',
		end: proofEnd(decision.until, app.clock.business(), app.clock.wall())
	});
	return `/media/stream/${signed}/master.m3u8`;
}

/** How much of a stream those who are turned away may see. */
function teaserSeconds(decision: Denied): number | null {
	const { answer, teaser } = decision;
	return answer.kind === 'notice' && teaser.kind === 'seconds' ? teaser.count : null;
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

	/** What a proof still opens at this moment; `seconds` where it is only the beginning. */
	async function admit(req: IncomingMessage, proof: Proof | null): Promise<Admitted> {
		if (!proof) return { ok: false, status: 404 };
		if (app.clock.wall() >= proof.end) return { ok: false, status: 403 };
		const standing = proof.memberId === null ? null : await app.rights.standing(proof.memberId);
		if (proof.memberId !== null && standing?.epoch !== proof.epoch) return { ok: false, status: 403 };
		const viewer = standing?.viewer ?? (await app.rights.stranger(deviceOf(req)));
		const decision = await app.rights.decideFor(viewer, proof.itemId);
		const seconds =
			decision.verdict === 'open' || proof.purpose === 'stream' ? null : teaserSeconds(decision);
		if (decision.verdict !== 'open' && seconds === null) return { ok: false, status: 403 };
		if (!(await isOwnDevice(req, proof))) return { ok: false, status: 401 };
		const isCounted =
			decision.verdict === 'open' && decision.allowedBy.by === 'crossing' && decision.allowedBy.isCounted;
		return { ok: true, seconds, isCounted };
	}

	async function stream(req: IncomingMessage, res: ServerResponse, match: RegExpExecArray): Promise<void> {
		const [, signed = '', master, variantId, , segment, keyGroup] = match;
		const proof = app.keys.verify(signed);
		const admitted = await admit(req, proof);
		if (!admitted.ok || !proof) return refuse(res, admitted.ok ? 404 : admitted.status);
		const found = await servedOf(proof.itemId, proof.assetId);
		if (!found) return refuse(res, 404);
		if (master) {
			// A use begins where content is delivered, not where a link is opened.
			if (
				admitted.isCounted &&
				proof.memberId !== null &&
				!(await takeUse(app, proof.memberId, proof.itemId))
			)
				return refuse(res, 403);
			return send(res, PLAYLIST_TYPE, Buffer.from(masterPlaylist(found.stream)));
		}
		const whole = found.stream.variants.find((v) => v.id === variantId);
		if (!whole) return refuse(res, 404);
		const variant = admitted.seconds === null ? whole : firstSeconds(whole, admitted.seconds);
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

	function deviceOf(req: IncomingMessage): string | null {
		const token = cookieValue(req.headers.cookie, CODE_COOKIE);
		return token === null ? null : hashOf(token);
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
	return showsPoster(app, await app.rights.decide(memberId, itemId), itemId);
}

/** The same, where the decision is known. */
export async function showsPoster(app: App, decision: Decision, itemId: string): Promise<boolean> {
	if (decision.verdict === 'open') return true;
	if (decision.answer.kind === 'absent') return false;
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
	if (file.bytes <= WHOLE_BYTES) {
		res.end(await file.whole());
		return;
	}
	// A reader who goes away ends the pipeline; that is no error.
	await pipeline(file.stream(), res).catch(() => res.destroy());
}

function refuse(res: ServerResponse, status: Refusal): void {
	res.writeHead(status, { 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'no-store' });
	res.end(status === 404 ? 'Not found\n' : 'Closed\n');
}
