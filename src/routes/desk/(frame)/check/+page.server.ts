import { checkPage } from '$server/reads/desk/check';
import { namesIn } from '$server/reads/desk/names';
import { whyAsked } from './why-view';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, url }) => {
	const seesMembers = viewer?.permissions.has('members') === true;
	const page = await checkPage(app, url, seesMembers);
	const why = page.found ? await whyAsked(app, url, page.member?.id ?? null) : null;
	return { ...page, why, known: await namesIn(app, [page.itemId, page.decidedId, page.found, page.checked]) };
};
