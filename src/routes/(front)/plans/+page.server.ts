import { plansOffered } from '$server/reads/front/shop';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, look } }) => ({
	offers: await plansOffered(app, look)
});
