import { outcomesPage } from '$server/reads/desk/insight';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app }, parent }) =>
	outcomesPage(app, (await parent()).asked);
