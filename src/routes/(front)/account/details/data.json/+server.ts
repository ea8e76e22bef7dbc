import { error, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { mayTry } from '$server/http/may-try';
import { ownData } from '$server/reads/front/own-data';
import type { RequestHandler } from './$types';

/** What is kept of whoever is signed in, as a file. */
export const GET: RequestHandler = async (event) => {
	const { locals, url } = event;
	const { app, viewer } = locals;
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	await mayTry(event, 'exportByClient');
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
