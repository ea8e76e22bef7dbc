import { error } from '@sveltejs/kit';
import { codeIn } from '$server/http/code-in';
import { ownPath } from '$server/http/cookies';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { planPage } from '$server/reads/front/shop';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, look }, params, url }) => {
	const code = codeIn(url);
	const next = ownPath(url.searchParams.get('next'), '') || null;
	const page = await planPage(app, look, params.slug, { next, code });
	if (!page) error(404, NO_SUCH_PAGE);
	// Nothing of it goes to whoever it is not for.
	if (page.isForOthers) {
		const sold = { kind: 'not' as const };
		return { offer: undefined, items: [], isForOthers: true, sold, next: url.pathname, code };
	}
	return { ...page, next: url.pathname, code };
};
