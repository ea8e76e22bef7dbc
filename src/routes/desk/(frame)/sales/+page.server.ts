import { listAsk, PAGE_SIZE, paymentList } from '$server/db/queries/lists';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app }, url }) => ({
	...(await paymentList(app.db, listAsk(url))),
	pageSize: PAGE_SIZE
});
