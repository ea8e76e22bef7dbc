import { json } from '@sveltejs/kit';
import { releasesInside } from '$server/reads/desk/releases';
import type { RequestHandler } from './$types';

/** What lives in `?of=…`, with its releases for `?plan=…`: it is laid out as a whole, in view or not. */
export const GET: RequestHandler = async ({ locals: { app }, url }) =>
	json(await releasesInside(app, url.searchParams.get('of') ?? '', url.searchParams.get('plan') ?? ''));
