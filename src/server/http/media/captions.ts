/**
 * Captions, for those who may open the film: what is said is as much of it as what is seen.
 *
 *   /media/captions/<item>/<language>.vtt
 */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { writeVtt } from '$core/media/captions';
import type { App } from '../../app';
import { captionsShown } from '../../reads/front/playing';
import { shownItem } from '../../rights/shown';
import { decideAsked, mayDeliver } from './admit';
import { refuse, send } from './answers';

export const CAPTIONS_PATH = /^\/media\/captions\/([0-9a-f-]{36})\/([A-Za-z0-9-]{2,35})\.vtt$/;

export function captionsHandler(app: App) {
	return async function captions(
		req: IncomingMessage,
		res: ServerResponse,
		[, itemId = '', language = '']: RegExpExecArray,
		client: string
	): Promise<void> {
		const { decision, counted } = await decideAsked(app, req, itemId, client);
		const asset = decision.verdict === 'open' ? (await shownItem(app, itemId))?.asset : null;
		const own = asset && (await captionsShown(app, asset.id)).find((one) => one.language === language);
		if (!own || !(await mayDeliver(app, req, counted))) return refuse(res, 404);
		return send(res, 'text/vtt; charset=utf-8', Buffer.from(writeVtt(own.cues)));
	};
}
