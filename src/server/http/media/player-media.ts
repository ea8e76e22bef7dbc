/** What the player of a page is handed: only what whoever looks may have. */
import type { Decision } from '$core/access/decision';
import { deterrentsOf, type Overlay } from '$core/media/deterrents';
import { and, eq } from 'drizzle-orm';
import type { App } from '../../app';
import { captionsOfAsset } from '../../db/queries/library';
import { positions } from '../../db/schema/library';
import type { Look } from '../../rights/look';
import { type ShownItem, shownDeterrents, shownPreset, showsPoster } from '../../rights/shown';
import { streamAddress } from './streams';

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
			? (await captionsOfAsset(app.db, asset.id)).map(({ language, label }) => ({
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
		preset: await shownPreset(app, item.presetId),
		overlay: overlay && { ...overlay, text: await overlayText(app, look, overlay) }
	};
}

async function positionOf(app: App, memberId: string | null, itemId: string): Promise<number> {
	if (memberId === null) return 0;
	const [row] = await app.db
		.select({ seconds: positions.seconds })
		.from(positions)
		.where(and(eq(positions.memberId, memberId), eq(positions.itemId, itemId)));
	return row?.seconds ?? 0;
}

/** Strangers have no name: where one is asked for, the site's stands there. */
async function overlayText(app: App, look: Look, { shows, text }: Overlay): Promise<string> {
	if (shows === 'text') return text;
	const standing = look.memberId === null ? null : await app.rights.standing(look.memberId);
	if (!standing) return text || (await app.site()).siteName;
	return shows === 'name' ? standing.name : standing.email;
}
