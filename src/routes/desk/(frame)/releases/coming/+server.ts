import { json } from '@sveltejs/kit';
import { asOf } from '$server/reads/desk/as-of';
import { deskNames } from '$server/reads/desk/names';
import { coming } from '$server/reads/desk/coming';
import type { RequestHandler } from './$types';

/** Coming releases, asked for when the board stands: with very many members they take a moment. */
export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const { moment, policy } = await asOf(app, url);
	const { resources } = await deskNames(app);
	const found = await coming(app, policy, moment.at, url.searchParams.get('within'));
	return json(found.map((one) => ({ ...one, title: resources[one.resourceId]?.title ?? '' })));
};
