import { error } from '@sveltejs/kit';
import { ownPath } from '$server/http/cookies';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { listFor } from '$server/reads/lists';
import { offersFor } from '$server/reads/offers';
import { shownPlans } from '$server/rights/shown';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, look }, params, url }) => {
	const plan = (await shownPlans(app)).find(({ slug }) => slug === params.slug);
	if (!plan) error(404, NO_SUCH_PAGE);
	const [offer] = offersFor(look, [plan], ownPath(url.searchParams.get('next'), '') || null);
	const isOpenedBy = (id: string) => {
		const resource = look.policy.resources.get(id);
		return resource ? look.policy.passage(resource).ways.some((way) => way.plans?.has(plan.id)) : false;
	};
	return {
		offer,
		isOnSale: plan.isOnSale,
		items: await listFor(app, look, (item) => item.address !== null && isOpenedBy(item.id))
	};
};
