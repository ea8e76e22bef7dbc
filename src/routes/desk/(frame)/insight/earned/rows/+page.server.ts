import { error } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { earnedRows } from '$server/reads/desk/insight';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app }, parent, url }) => {
	const rows = await earnedRows(app, (await parent()).asked, url);
	if (!rows) error(404, NO_SUCH_PAGE);
	return rows;
};
