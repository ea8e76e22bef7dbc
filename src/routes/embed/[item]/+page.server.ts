import { error } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { playerMedia } from '$server/http/media/player-media';
import { knownItem } from '$server/reads/front/place';
import type { PageServerLoad } from './$types';

/** A film within another site. Nothing personal stands here: the frame is asked for from everywhere. */
export const load: PageServerLoad = async ({ locals: { app, look }, params }) => {
	const known = await knownItem(app, look, params.item);
	if (!known?.shown.asset?.stream) error(404, NO_SUCH_PAGE);
	const { shown, decision } = known;
	return {
		title: shown.item.title,
		address: shown.item.address ?? '/',
		site: (await app.site()).siteName,
		language: (await app.site()).language,
		media: await playerMedia(app, look, decision, shown)
	};
};
