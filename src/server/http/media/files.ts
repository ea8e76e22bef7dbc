/**
 * Files, by signed links that a press made. All requests by one link are one use; a link that goes round is written down
 * with the networks that it was opened from.
 *
 *   /media/file/<proof>/<name>
 */
import type { IncomingMessage, ServerResponse } from 'node:http';
import contentDisposition from 'content-disposition';
import type { Proof } from '$core/media/proof';
import { isGivenBack, isProbe } from '$core/media/uses';
import type { App } from '../../app';
import type { Asset } from '../../db/queries/library';
import { openAsset } from '../../usecases/library/contents';
import { giveUseBack, takeFileUse } from '../../usecases/library/uses';
import { OpenResponses } from '../bytes/open-responses';
import { askedOf, ReaderGone, sendBytes, type Sending } from '../bytes/send';
import { shownItem } from '../shown';
import { admit } from './admit';
import { redirectToStored, refuse } from './answers';
import { LinkLog } from './link-log';

export const FILE_PATH = /^\/media\/file\/([A-Za-z0-9_.-]+)\/([^/]+)$/;

/** After the last byte of a use this long nothing more of it is expected. */
const SETTLED_AFTER_MS = 3000;
const USES_KEPT = 20_000;

/** Types that browsers show without running anything of them on this site. */
const SHOWN_INLINE = new Set(['application/pdf', 'image/png', 'image/jpeg', 'image/webp', 'image/gif']);
/** What a browser might run: it is only ever saved, and not called by its name. */
const RUNS = /html|xml|svg|javascript|ecmascript|wasm/;

/** A use under way. */
interface Taken {
	sent: number;
	open: number;
	/** Enough was sent: it counts whatever comes. */
	isSettled: boolean;
	timer: NodeJS.Timeout | null;
}

export function fileHandler(app: App, openResponses: OpenResponses) {
	const taken = new Map<string, Taken>();
	const links = new LinkLog(app);

	return async function file(
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
		links.opened(signed, proof, client);
		const sending = sendingOf(asset, shown.item.opensInBrowser);
		const bytes = await openAsset(app, asset);
		if (!bytes) return refuse(res, 404);
		try {
			const use = await useOf(req, proof, isProbe(req.method ?? 'GET', askedOf(req, bytes, sending.etag)));
			if (use === 'refused') return refuse(res, 403);
			if (app.settings.redirectPrefix !== null && asset.source === null)
				return redirectToStored(res, app.settings.redirectPrefix + asset.originalKey, sending);
			await openResponses.during(
				async () => (await admit(app, req, proof, client)).ok,
				(signal) =>
					sendBytes(req, res, bytes, {
						...sending,
						signal,
						...(use ? { onSent: (count) => void (use.sent += count) } : {})
					})
			);
		} catch (error) {
			if (!(error instanceof ReaderGone)) throw error;
		} finally {
			bytes.close();
			settle(proof, bytes.size);
		}
	};

	/** The use that the request belongs to; `null` where none is counted or it is only a probe. */
	async function useOf(
		_req: IncomingMessage,
		{ useId, memberId, itemId }: Proof,
		isOnlyProbe: boolean
	): Promise<Taken | null | 'refused'> {
		if (useId === null || memberId === null) return null;
		const known = taken.get(useId);
		if (known) {
			known.open++;
			return known;
		}
		if (isOnlyProbe) return null;
		if (!(await takeFileUse(app, { useId, memberId, itemId }))) return 'refused';
		const made = taken.get(useId) ?? { sent: 0, open: 0, isSettled: false, timer: null };
		made.open++;
		taken.set(useId, made);
		const oldest = taken.size > USES_KEPT ? taken.keys().next().value : undefined;
		if (oldest !== undefined) taken.delete(oldest);
		return made;
	}

	/** When nothing more comes of a use that sent almost nothing, it is given back. */
	function settle({ useId, memberId }: Proof, size: number): void {
		const use = useId === null ? undefined : taken.get(useId);
		if (!use || useId === null || memberId === null) return;
		use.open = Math.max(0, use.open - 1);
		use.isSettled ||= !isGivenBack(use.sent, size) || app.settings.redirectPrefix !== null;
		if (use.timer) clearTimeout(use.timer);
		use.timer = null;
		if (use.isSettled || use.open > 0) return;
		use.timer = setTimeout(() => {
			if (use.open > 0) return;
			taken.delete(useId);
			giveUseBack(app, useId, memberId, use.sent).catch((error: unknown) =>
				app.log.warn({ err: error, useId }, 'a use could not be given back')
			);
		}, SETTLED_AFTER_MS);
	}
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
