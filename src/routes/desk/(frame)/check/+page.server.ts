import { checkPage } from '$server/reads/desk/check';
import { namesIn } from '$server/reads/desk/names';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, url }) => {
	const page = await checkPage(app, url, viewer?.permissions.has('members') === true);
	return { ...page, known: await namesIn(app, [page.itemId, page.decidedId, page.found, page.checked]) };
};
