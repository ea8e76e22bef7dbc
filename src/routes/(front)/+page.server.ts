import { listFor } from '$server/reads/front/lists';
import { NO_OTHER_WAYS, offersAtPlace, otherWaysAt, withWaysIn } from '$server/reads/front/offers';
import { plansOffered } from '$server/reads/front/shop';
import { denialOf } from '$server/http/pass';
import type { PageServerLoad } from './$types';

const SHOWN = 60;

/** What stands in a collection or below a page is listed there, and not on the front page too. */
export const load: PageServerLoad = async ({ locals }) => {
	const { app, look } = locals;
	const denial = await denialOf(locals, '/');
	const items = denial
		? []
		: await listFor(app, look, (item) => item.homeId === null && item.address !== null);
	return {
		denial,
		items: await withWaysIn(app, look, items.slice(0, SHOWN)),
		offers: denial ? await offersAtPlace(app, look, '/') : await plansOffered(app, look, {}),
		otherWays: denial ? await otherWaysAt(app, look, '/') : NO_OTHER_WAYS
	};
};
