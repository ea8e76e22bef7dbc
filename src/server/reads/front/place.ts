/** A place of the front: what it shows, and what is around it. */
import type { Decision } from '$core/access/decision';
import type { Policy } from '$core/access/policy';
import { inOrder, outline } from '$core/library/outline';
import type { Using } from '../../app';
import { hasPicture, type Asset } from '../../db/queries/library';
import { fileUses } from '../../rights/file-uses';
import { decideIn, type Look, type Looking } from '../../rights/look';
import { shownItem, showsPoster, type ShownItem } from '../../rights/shown';
import { isKnownTo, listFor } from './lists';
import { withWaysIn } from './offers';

export { shownItem, type ShownItem };

/** An item as whoever looks may know of it, with the decision about them; `null`: for them there is none. */
export async function knownItem(
	app: Looking,
	look: Look,
	itemId: string
): Promise<{ shown: ShownItem; decision: Decision } | null> {
	const shown = await shownItem(app, itemId);
	if (!shown) return null;
	const decision = await decideIn(app, look, itemId);
	return isKnownTo(decision) ? { shown, decision } : null;
}

/** The address of the picture that stands for it, if whoever was decided about may see it. */
export async function posterOf(
	app: Using<'db' | 'rights'>,
	decision: Decision,
	{ item, asset }: ShownItem
): Promise<string | null> {
	const isShown = hasPicture(item, asset) && (await showsPoster(app, decision, item.id));
	return isShown ? `/media/poster/${item.id}` : null;
}

/** A file, and how many savings of it are left to whoever looks. */
export async function fileView(
	app: Using<'clock' | 'db' | 'rights'>,
	look: Look,
	itemId: string,
	asset: Asset
) {
	const { fileName: name, bytes, facts } = asset;
	const uses = look.memberId === null || look.otherSide ? null : await fileUses(app, look.memberId, itemId);
	return { name, bytes, pages: facts?.pages ?? null, isReady: asset.state === 'ready', uses };
}

/** What is inside, and what stands before and after it in its course or show. */
export async function surroundings(app: Looking, look: Look, id: string, isClosed: boolean) {
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

function homesOf(policy: Policy, id: string): string[] {
	const resource = policy.resources.get(id);
	return resource ? policy.homesOf(resource) : [];
}
