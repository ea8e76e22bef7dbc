import { earnedPage, earnerAsked } from '$server/reads/desk/insight';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app }, parent, url }) =>
	earnedPage(app, (await parent()).asked, earnerAsked(url));
