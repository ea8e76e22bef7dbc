import { incomePage } from '$server/reads/desk/insight';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app }, parent }) =>
	incomePage(app, (await parent()).asked);
