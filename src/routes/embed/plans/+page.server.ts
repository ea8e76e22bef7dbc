import { plansNamed, plansOffered } from '$server/reads/front/shop';
import { siteView } from '$server/reads/front/site-view';
import type { PageServerLoad } from './$types';

const MOST_PLANS = 20;

/** What is sold, within another site: all that is listed, or `?of=` with the last parts of plans’ addresses, in their order. */
export const load: PageServerLoad = async ({ locals: { app, look }, url }) => {
	const slugs = (url.searchParams.get('of') ?? '').split(',').filter((slug) => slug !== '');
	const offers =
		slugs.length > 0
			? await plansNamed(app, look, slugs.slice(0, MOST_PLANS))
			: await plansOffered(app, look, {});
	return { site: await siteView(app, (await app.site()).language), offers };
};
