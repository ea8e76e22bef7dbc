import { error, json } from '@sveltejs/kit';
import { record } from '$server/http/read-window';
import { boardWindow } from '$server/reads/desk/releases';
import { boardAsk, WINDOW } from '../ask';
import { readWishes } from '../wishes';
import type { RequestHandler } from './$types';

/** Further rows of the board, as they would be with what is not kept yet. Nothing is written. */
export const POST: RequestHandler = async ({ locals: { app }, url, request }) => {
	const { zone } = await app.site();
	const read = readWishes(record(await request.json().catch(() => null)).changes, zone);
	if (!read.ok) error(400, read.message);
	const from = Math.max(0, Math.floor(Number(url.searchParams.get('from'))) || 0);
	return json(await boardWindow(app, boardAsk(url), url, read.wishes, from, WINDOW));
};
