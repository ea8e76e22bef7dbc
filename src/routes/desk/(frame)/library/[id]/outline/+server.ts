import { error, json } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { outlineOf } from '$server/reads/desk/outline';
import type { RequestHandler } from './$types';

/** All of it: a page brings the beginning. */
export const GET: RequestHandler = async ({ locals: { app }, params }) => {
	const outline = await outlineOf(app, params.id);
	if (!outline) error(404, NO_SUCH_PAGE);
	return json(outline);
};
