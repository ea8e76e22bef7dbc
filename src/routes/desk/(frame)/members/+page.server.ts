import { listAsk, memberList, PAGE_SIZE } from '$server/db/queries/lists';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app }, url }) => ({
	...(await memberList(app.db, listAsk(url))),
	pageSize: PAGE_SIZE
});
