/** Everything under `/media/`: bytes that only go where they may. */
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { App } from '../../app';
import { OpenResponses } from '../bytes/open-responses';
import { refuse } from './answers';
import { CAPTIONS_PATH, captionsHandler } from './captions';
import { FILE_PATH, fileHandler } from './files';
import { PICTURE_PATH, pictureHandler } from './pictures';
import { STREAM_PATH, streamHandler } from './streams';

export function mediaHandler(app: App) {
	const openResponses = new OpenResponses();
	const stream = streamHandler(app, openResponses);
	const file = fileHandler(app, openResponses);
	const captions = captionsHandler(app);
	const picture = pictureHandler(app);

	async function answer(
		req: IncomingMessage,
		res: ServerResponse,
		path: string,
		client: string
	): Promise<void> {
		if (req.method !== 'GET' && req.method !== 'HEAD') {
			res.writeHead(405, { allow: 'GET, HEAD' }).end();
			return;
		}
		const asStream = STREAM_PATH.exec(path);
		if (asStream) return stream.answer(req, res, asStream, client);
		const asFile = FILE_PATH.exec(path);
		if (asFile) return file.answer(req, res, asFile, client);
		const asCaptions = CAPTIONS_PATH.exec(path);
		if (asCaptions) return captions(req, res, asCaptions, client);
		const asPicture = PICTURE_PATH.exec(path);
		return asPicture ? picture(req, res, asPicture, client) : refuse(res, 404);
	}

	return { answer, again: file.again, endWatches: stream.endWatches };
}
