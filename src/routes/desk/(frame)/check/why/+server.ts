import { error, json } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { whyAsked } from '../why-view';
import type { RequestHandler } from './$types';

/** The why of one mark, asked for when it is opened. */
export const GET: RequestHandler = async ({ locals: { app, viewer }, url }) => {
	const memberId = url.searchParams.get('member');
	if (memberId && !viewer?.permissions.has('members')) error(403, 'Your role does not include this.');
	const why = await whyAsked(app, url, memberId);
	if (!why) error(404, NO_SUCH_PAGE);
	return json(why);
};
