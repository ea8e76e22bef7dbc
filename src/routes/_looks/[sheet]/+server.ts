import { error } from '@sveltejs/kit';
import { looksSheet, readColour } from '$core/looks/colour';
import { NO_SUCH_PAGE } from '$server/http/denial';
import type { RequestHandler } from './$types';

const YEAR_SECONDS = 365 * 86_400;

/** The front's colours, by the publisher's: what a sheet of this name says never changes. */
export const GET: RequestHandler = ({ params }) => {
	const named = /^([0-9a-f]{6})\.css$/.exec(params.sheet);
	const colour = named && readColour(`#${named[1] ?? ''}`);
	if (!colour) error(404, NO_SUCH_PAGE);
	return new Response(looksSheet(colour), {
		headers: {
			'content-type': 'text/css; charset=utf-8',
			'cache-control': `public, max-age=${YEAR_SECONDS}, immutable`
		}
	});
};
