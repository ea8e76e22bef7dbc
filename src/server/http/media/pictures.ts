/**
 * Pictures that stand for items.
 *
 *   /media/poster/<item> · /media/thumbs/<item>
 */
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { App } from '../../app';
import { shownItem, showsPoster, type Asset } from '../../rights/shown';
import { decideAsked, mayDeliver } from './admit';
import { refuse, sendStored } from './answers';

export const PICTURE_PATH = /^\/media\/(poster|thumbs)\/([0-9a-f-]{36})$/;

const MAX_AGE_SECONDS = 300;

/** Those who are turned away see the poster only if the publisher shows it, and never of what is absent. */
export function pictureHandler(app: App) {
	return async function picture(
		req: IncomingMessage,
		res: ServerResponse,
		[, what = '', itemId = '']: RegExpExecArray,
		client: string
	): Promise<void> {
		const { decision, counted } = await decideAsked(app, req, itemId, client);
		// The small pictures of the bar show the whole film.
		const isShown =
			what === 'thumbs' ? decision.verdict === 'open' : await showsPoster(app, decision, itemId);
		const shown = isShown ? await shownItem(app, itemId) : null;
		if (!shown) return refuse(res, 404);
		const { item, asset } = shown;
		const key =
			what === 'thumbs'
				? preparedKey(asset, 'thumbs')
				: // A picture of one's own stands before a frame of the film.
					(item.coverKey ?? preparedKey(asset, 'poster'));
		if (key === null) return refuse(res, 404);
		if (what === 'thumbs' && !(await mayDeliver(app, req, counted))) return refuse(res, 404);
		return sendStored(app, req, res, key, {
			type: 'image/jpeg',
			etag: `"${key.replaceAll('/', '-')}"`,
			cache: `private, max-age=${MAX_AGE_SECONDS}`
		});
	};
}

function preparedKey(
	asset: Pick<Asset, 'id' | 'version' | 'posterSeconds'> | null,
	name: 'poster' | 'thumbs'
): string | null {
	// What was prepared before is shown until it is prepared anew.
	if (!asset || asset.version === 0) return null;
	const chosen = name === 'poster' && asset.posterSeconds !== null ? `poster-${asset.posterSeconds}` : name;
	return `prepared/${asset.id}/${asset.version}/${chosen}.jpg`;
}
