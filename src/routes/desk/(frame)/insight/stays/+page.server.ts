import { staysPage } from '$server/reads/desk/insight';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app }, parent }) =>
	staysPage(app, (await parent()).asked);
