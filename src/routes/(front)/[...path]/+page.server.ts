import { error, fail, redirect } from '@sveltejs/kit';
import type { Teaser } from '$core/access/model';
import type { RichText } from '$core/text/rich-text';
import { inOrder, outline } from '$core/library/outline';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { listedLabels } from '$server/reads/label-list';
import { listFor } from '$server/reads/lists';
import { deliverPage } from '$server/http/deliver-page';
import { again } from '$server/http/load-again';
import { playerMedia } from '$server/http/media/player-media';
import { offersAtPlace, withWaysIn } from '$server/reads/offers';
import { denialOf } from '$server/http/pass';
import { shownItem, showsPoster } from '$server/rights/shown';
import { hasPicture, type Asset, type Item } from '$server/db/queries/library';
import { textOf } from '$server/usecases/library/edit-item';
import { listenAddress, makeFileLink } from '$server/usecases/library/file-link';
import { fileUses } from '$server/usecases/library/uses';
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
	const poster = hasPicture(item, asset) && (await showsPoster(app, decision, item.id));
	return {
		isHeld: false,
		item: {
			title: item.title,
			kind: item.kind,
			text: denial ? teaserOf(textOf(item), denial.teaser) : textOf(item),
			poster: poster ? `/media/poster/${item.id}` : null,
			target: denial ? null : item.target,
			isFramed: !denial && item.kind === 'link' && item.opensInBrowser
		},
		denial,
		isPlayable: Boolean(asset?.stream),
		listen: await listenAddress(app, look, decision, shown),
		file: denial || asset?.kind !== 'file' ? null : await fileView(locals, item.id, asset),
		media: await playerMedia(app, look, decision, shown),
		labels: denial ? [] : await listedLabels(app, look, [item]),
		offers: denial ? await offersAtPlace(app, look, item.id, path) : [],
		...(await surroundings(locals, item.id, denial !== null))
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
function heldPage({ title, kind }: Item) {
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
		inside: [],
		before: null,
		after: null,
		homes: []
	};
}

async function fileView({ app, look }: App.Locals, itemId: string, asset: Asset) {
	const { fileName: name, bytes, facts } = asset;
	const uses = look.memberId === null || look.otherSide ? null : await fileUses(app, look.memberId, itemId);
	return { name, bytes, pages: facts?.pages ?? null, isReady: asset.state === 'ready', uses };
}

function teaserOf(text: RichText, teaser: Teaser): RichText {
	return teaser.kind === 'paragraphs' ? text.slice(0, teaser.count) : [];
}

/** What is inside, and what stands before and after it in its course or show. */
async function surroundings({ app, look }: App.Locals, id: string, isClosed: boolean) {
	const homes = homesOf(look.policy, id);
	const root = homes.at(-1) ?? null;
	const wanted = new Set([id, ...homes]);
	const entries = await listFor(
		app,
		look,
		(one) => one.id === id || homesOf(look.policy, one.id).some((home) => wanted.has(home))
	);
	const within = isClosed ? [] : inOrder(outline(entries, id));
	const inside = outline(await withWaysIn(app, look, within), id);
	const order = root === null ? [] : inOrder(outline(entries, root)).filter((one) => one.address !== null);
	const at = order.findIndex((one) => one.id === id);
	const parents = await listFor(app, look, (one) => homes.includes(one.id));
	return {
		inside,
		before: at > 0 ? (order[at - 1] ?? null) : null,
		after: at >= 0 ? (order[at + 1] ?? null) : null,
		homes: homes
			.map((home) => parents.find((one) => one.id === home))
			.filter((one) => one?.address)
			.map((one) => ({ title: one?.title ?? '', address: one?.address ?? '/' }))
			.reverse()
	};
}

function homesOf(policy: App.Locals['look']['policy'], id: string): string[] {
	const resource = policy.resources.get(id);
	return resource ? policy.homesOf(resource) : [];
}
