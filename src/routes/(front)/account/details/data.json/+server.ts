import { error, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { frontError } from '$server/http/front-error';
import { allows } from '$server/people/rate-limit';
import { ownData } from '$server/reads/front/own-data';
import type { RequestHandler } from './$types';

/** What is kept of whoever is signed in, as a file. */
export const GET: RequestHandler = async ({ locals: { app, viewer }, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	if (!(await allows(app, 'exportByMember', viewer.id))) error(429, frontError('details.data-too-many'));
	const data = await ownData(app, viewer.id);
	if (!data) error(404, NO_SUCH_PAGE);
	return new Response(JSON.stringify(data, null, '\t'), {
		headers: {
			'content-type': 'application/json; charset=utf-8',
			'content-disposition': 'attachment; filename="my-data.json"',
			'cache-control': 'private, no-store'
		}
	});
};
