/**
 * Pictures that stand for items.
 *
 *   /media/poster/<item> · /media/cover/<item> · /media/thumbs/<item>
 */
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Decision } from '$core/access/decision';
import type { App } from '../../app';
import { keptOut } from '../place';
import { shownItem } from '../shown';
import { memberOf } from './admit';
import { refuse, sendStored } from './answers';

export const PICTURE_PATH = /^\/media\/(poster|cover|thumbs)\/([0-9a-f-]{36})$/;

const MAX_AGE_SECONDS = 300;

/** Those who are turned away see the poster only if the publisher shows it, and never of what is absent. */
export function pictureHandler(app: App) {
	return async function picture(
		req: IncomingMessage,
		res: ServerResponse,
		[, what = '', itemId = '']: RegExpExecArray,
		client: string
	): Promise<void> {
		const memberId = await memberOf(app, req);
		const standing = memberId === null ? null : await app.rights.standing(memberId);
		const viewer = standing?.viewer ?? (await app.rights.stranger(null));
		const decision = await app.rights.decideFor(viewer, itemId, await keptOut(app, itemId, client));
		// The small pictures of the bar show the whole film.
		const isShown =
			what === 'thumbs' ? decision.verdict === 'open' : await showsPoster(app, decision, itemId);
		const shown = isShown ? await shownItem(app, itemId) : null;
		if (!shown) return refuse(res, 404);
		const { item, asset } = shown;
		const key =
			what === 'cover' ? item.coverKey : preparedKey(asset, what === 'poster' ? 'poster' : 'thumbs');
		if (key === null) return refuse(res, 404);
		return sendStored(app, req, res, key, {
			type: 'image/jpeg',
			etag: `"${key.replaceAll('/', '-')}"`,
			cache: `private, max-age=${MAX_AGE_SECONDS}`
		});
	};
}

function preparedKey(
	asset: { id: string; version: number; state: string } | null,
	name: string
): string | null {
	return asset?.state === 'ready' ? `prepared/${asset.id}/${asset.version}/${name}.jpg` : null;
}

/** Whether a viewer may see the picture that stands for an item, by the decision about them. */
export async function showsPoster(app: App, decision: Decision, itemId: string): Promise<boolean> {
	if (decision.verdict === 'open') return true;
	if (decision.answer.kind === 'absent') return false;
	return (await shownItem(app, itemId))?.item.showsPoster ?? false;
}
