import { json } from '@sveltejs/kit';
import { asOf } from '$server/http/as-of';
import { deskNames } from '$server/http/names';
import { coming } from '$server/reads/coming';
import type { RequestHandler } from './$types';

/** Coming releases, asked for when the board stands: with very many members they take a moment. */
export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const { moment, policy } = await asOf(app, url);
	const { resources } = await deskNames(app);
	const found = await coming(app, policy, moment.at, url.searchParams.get('within'));
	return json(found.map((one) => ({ ...one, title: resources[one.resourceId]?.title ?? '' })));
};
