import { movedPage } from '$server/reads/desk/insight';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app }, parent, url }) =>
	movedPage(app, (await parent()).asked, url);
