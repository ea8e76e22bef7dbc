import { askedOf } from '$server/reads/desk/insight';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals: { app }, url }) => ({
	asked: await askedOf(app, url)
});
