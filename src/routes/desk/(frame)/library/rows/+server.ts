import { json } from '@sveltejs/kit';
import { libraryIds, libraryWindow } from '$server/reads/desk/library-rows';
import { libraryAsk } from '../ask';
import { WINDOW } from '../window';
import type { RequestHandler } from './$types';

const MOST_CHOSEN = 10_000;

/** Further rows of the list; with `ids`, only what those from `from` to `to` are. */
export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const ask = libraryAsk(url);
	const number = (name: string) => Math.max(0, Math.floor(Number(url.searchParams.get(name))) || 0);
	const from = number('from');
	if (!url.searchParams.has('ids')) return json(await libraryWindow(app, ask, from, WINDOW));
	return json(await libraryIds(app, ask, from, Math.min(number('to'), from + MOST_CHOSEN - 1)));
};
