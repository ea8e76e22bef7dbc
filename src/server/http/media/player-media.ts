/** What the player of a page is handed: only what whoever looks may have. */
import type { Decision } from '$core/access/decision';
import { deterrentsOf, type Overlay } from '$core/media/deterrents';
import type { App } from '../../app';
import { captionsShown, positionOf } from '../../reads/front/playing';
import { decideIn, type Look } from '../../rights/look';
import { shownDeterrents, shownItem, shownWay, showsPoster, type ShownItem } from '../../rights/shown';
import { streamAddress } from './streams';

/** The same for whoever looks, by the item's id. */
export async function playerMediaOf(app: App, look: Look, itemId: string) {
	const shown = await shownItem(app, itemId);
	return shown && playerMedia(app, look, await decideIn(app, look, itemId), shown);
}

export async function playerMedia(app: App, look: Look, decision: Decision, shown: ShownItem) {
	const { item, asset } = shown;
	const stream = await streamAddress(app, look, decision, shown);
	if (stream === null || !asset) return null;
	const isOpen = decision.verdict === 'open';
	const thumbs = isOpen ? (asset.facts?.thumbs ?? null) : null;
	const { deterrents } = await app.site();
	const { overlay } = deterrentsOf(deterrents, (await shownDeterrents(app)).get(item.id) ?? null);
	return {
		itemId: item.id,
		kind: asset.kind === 'audio' ? ('audio' as const) : ('video' as const),
		title: isOpen ? item.title : `The beginning of ${item.title}`,
		stream,
		poster:
			asset.kind === 'video' && (await showsPoster(app, decision, item.id))
				? `/media/poster/${item.id}`
				: null,
		captions: isOpen
			? (await captionsShown(app, asset.id)).map(({ language, label }) => ({
					language,
					label,
					address: `/media/captions/${item.id}/${language}.vtt`
				}))
			: [],
		chapters: isOpen ? (asset.chapters ?? []) : [],
		thumbs: thumbs && { ...thumbs, address: `/media/thumbs/${item.id}` },
		peaks: isOpen ? (asset.facts?.peaks ?? null) : null,
		seconds: asset.seconds,
		position: isOpen ? await positionOf(app, look.memberId, item.id) : 0,
		keepsPosition: isOpen && look.memberId !== null,
		way: await shownWay(app, item.wayId),
		overlay: overlay && { ...overlay, text: await overlayText(app, look, overlay) }
	};
}

/** Strangers have no name: where one is asked for, the site's stands there. */
async function overlayText(app: App, look: Look, { shows, text }: Overlay): Promise<string> {
	if (shows === 'text') return text;
	const standing = look.memberId === null ? null : await app.rights.standing(look.memberId);
	if (!standing) return text || (await app.site()).siteName;
	return shows === 'name' ? standing.name : standing.email;
}
