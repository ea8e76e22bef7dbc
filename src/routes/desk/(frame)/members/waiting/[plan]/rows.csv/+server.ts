import { error } from '@sveltejs/kit';
import { csv } from '$server/http/csv';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { waitingAsTable } from '$server/reads/desk/plans';
import type { RequestHandler } from './$types';

/** Who waits for a plan, those who came first first. */
export const GET: RequestHandler = async ({ locals: { app }, params }) => {
	const table = await waitingAsTable(app, params.plan);
	if (!table) error(404, NO_SUCH_PAGE);
	return csv(`waiting-${table.slug}`, [
		['email', 'since'],
		...table.rows.map(({ email, at }) => [email, new Date(at).toISOString()])
	]);
};
