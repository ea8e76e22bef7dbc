import { error } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { decideIn } from '$server/rights/look';
import { playerMedia } from '$server/http/media/player-media';
import { shownItem } from '$server/rights/shown';
import type { PageServerLoad } from './$types';

/** A film within another site. Nothing personal stands here: the frame is asked for from everywhere. */
export const load: PageServerLoad = async ({ locals: { app, look }, params }) => {
	const shown = await shownItem(app, params.item);
	const decision = shown ? await decideIn(app, look, params.item) : null;
	const isHidden =
		decision && decision.verdict !== 'open' && (decision.answer.kind === 'absent' || !decision.isListed);
	if (!shown?.asset?.stream || !decision || isHidden) error(404, NO_SUCH_PAGE);
	return {
		title: shown.item.title,
		address: shown.item.address ?? '/',
		site: (await app.site()).siteName,
		language: (await app.site()).language,
		media: await playerMedia(app, look, decision, shown)
	};
};
