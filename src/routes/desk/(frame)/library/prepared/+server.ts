import { json } from '@sveltejs/kit';
import { preparedOf } from '$server/reads/desk/today';
import type { RequestHandler } from './$types';

const UUID = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;
const MOST = 100;

/** Which of some films and recordings are prepared, or could not be: for whoever sent them and went on. */
export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const ids = url.searchParams.getAll('item').filter((id) => UUID.test(id));
	return json(await preparedOf(app, ids.slice(0, MOST)));
};
