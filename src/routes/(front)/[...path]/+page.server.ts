import { error, fail, redirect } from '@sveltejs/kit';
import type { Teaser } from '$core/access/model';
import type { RichText } from '$core/text/rich-text';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { listedLabels } from '$server/reads/front/label-list';
import { deliverPage } from '$server/http/deliver-page';
import { again } from '$server/http/load-again';
import { playerMedia } from '$server/http/media/player-media';
import { NO_OTHER_WAYS, offersAtPlace, otherWaysAt } from '$server/reads/front/offers';
import { fileView, posterOf, shownItem, surroundings, type ShownItem } from '$server/reads/front/place';
import { denialOf } from '$server/http/pass';
import { textOf } from '$server/usecases/library/edit-item';
import { listenAddress, makeFileLink } from '$server/usecases/library/file-link';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async (event) => {
	const { locals } = event;
	again(event);
	const { app, look, access } = locals;
	const shown = access?.itemId ? await shownItem(app, access.itemId) : null;
	if (!access || !shown) error(404, NO_SUCH_PAGE);
	const { path } = locals;
	const { item, asset } = shown;
	// A page is a use when it is delivered; a stream or file when its first bytes are.
	const delivery = asset ? 'delivered' : await deliverPage(event);
	const { decision } = locals.access ?? access;
	const denial = await denialOf(locals, path);
	if (delivery === 'held' && !denial) return heldPage(item);
	return {
		isHeld: false,
		item: {
			title: item.title,
			kind: item.kind,
			text: denial ? teaserOf(textOf(item), denial.teaser) : textOf(item),
			poster: await posterOf(app, decision, shown),
			target: denial ? null : item.target,
			isFramed: !denial && item.kind === 'link' && item.opensInBrowser
		},
		denial,
		isPlayable: Boolean(asset?.stream),
		listen: await listenAddress(app, look, decision, shown),
		file: denial || asset?.kind !== 'file' ? null : await fileView(app, look, item.id, asset),
		media: await playerMedia(app, look, decision, shown),
		labels: denial ? [] : await listedLabels(app, look, [item]),
		offers: denial ? await offersAtPlace(app, look, item.id, path) : [],
		otherWays: denial ? await otherWaysAt(app, look, item.id) : NO_OTHER_WAYS,
		...(await surroundings(app, look, item.id, denial !== null))
	};
};

export const actions: Actions = {
	/** A press, and not the opening of a page, makes a use: what reads pages ahead uses nothing up. */
	download: async ({ locals }) => {
		const { app, look, access, path } = locals;
		if (!access?.itemId) error(404, NO_SUCH_PAGE);
		// What hides itself, or sends elsewhere, does so for a press, too.
		await denialOf(locals, path);
		const link = await makeFileLink(app, look, access.itemId);
		if (!link.ok) return fail(403, { download: link.code });
		redirect(303, link.address);
	}
};

/** What is shown where the page may not be delivered yet: its name, and the way to open it for good. */
function heldPage({ title, kind }: ShownItem['item']) {
	return {
		isHeld: true,
		item: { title, kind, text: [], poster: null, target: null, isFramed: false },
		denial: null,
		isPlayable: false,
		listen: null,
		file: null,
		media: null,
		labels: [],
		offers: [],
		otherWays: NO_OTHER_WAYS,
		inside: [],
		before: null,
		after: null,
		homes: []
	};
}

function teaserOf(text: RichText, teaser: Teaser): RichText {
	return teaser.kind === 'paragraphs' ? text.slice(0, teaser.count) : [];
}
