import { error } from '@sveltejs/kit';
import { answerDenial, NO_SUCH_PAGE } from '$server/http/denial';
import { mayShowPoster, streamAddress } from '$server/http/media';
import { offersFor } from '$server/http/offers';
import { shownItem, shownPlans } from '$server/http/shown';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer, access }, url }) => {
	if (!access) error(404, NO_SUCH_PAGE);
	const { decision, itemId } = access;
	const viewerId = viewer?.id ?? null;
	const denial =
		decision.verdict === 'open'
			? null
			: answerDenial(decision, url.pathname, viewer !== null, (await app.site()).defaultNotice);
	const shown = await shownItem(app, itemId);
	if (!shown) error(404, NO_SUCH_PAGE);
	const { item, asset } = shown;
	const poster =
		asset?.state === 'ready' && (await mayShowPoster(app, viewerId, itemId))
			? `/media/poster/${itemId}`
			: null;
	const openedBy = denial
		? (await shownPlans(app)).filter((plan) => denial.openedBy.includes(plan.id))
		: [];
	return {
		item: { title: item.title, description: denial ? '' : item.description, poster },
		verdict: decision.verdict,
		denial,
		stream: denial ? null : await streamAddress(app, itemId, viewerId),
		offers: await offersFor(app, viewerId, openedBy, url.pathname)
	};
};
