/**
 * What an item shows, and how other content takes its place: the address stays, and what was there is shown until the new
 * content can be. What a film or file is replaced by, every lesson and page that shows it shows, too.
 */
import { and, eq, inArray } from 'drizzle-orm';
import { widerThan, type Opened } from '$core/access/wider';
import { extensionOf } from '$core/media/kind-of-file';
import { isBytes, SHOWS_ASSETS } from '$core/library/homes';
import type { Actor, App } from '../../app';
import { assetById, assetOfItem, itemById, type Asset, type Item } from '../../db/queries/library';
import { assets, captions, items, placements } from '../../db/schema/library';
import { transact, type Work } from '../../transact';

/** New content of an item. Where something is shown already, it comes when it is prepared. */
export async function giveContent(work: Work, item: Item, asset: Asset): Promise<void> {
	const before = await assetOfItem(work.tx, item.id);
	if (before?.stream && asset.kind !== 'file' && !asset.stream) {
		await dropComing(work, item.id);
		await work.tx.insert(placements).values({ itemId: item.id, assetId: asset.id, state: 'coming' });
	} else await show(work, item, asset);
}

/** Shows what has been prepared wherever it was waited for. */
export async function showPrepared(work: Work, assetId: string): Promise<void> {
	const waited = await work.tx
		.select({ itemId: placements.itemId })
		.from(placements)
		.where(and(eq(placements.assetId, assetId), eq(placements.state, 'coming')));
	const asset = waited.length > 0 ? await assetById(work.tx, assetId) : null;
	for (const { itemId } of waited) {
		const item = await itemById(work.tx, itemId);
		if (item && asset) await show(work, item, asset);
	}
}

export type Placed =
	| { ok: true }
	| { ok: false; code: 'unknown' | 'shows-nothing' | 'cannot-show' }
	/** It would open what is shown to people who cannot open it where it comes from: somebody has to say yes. */
	| { ok: false; code: 'opens-wider'; to: Opened[] };

/** Shows on a lesson or page what another item shows. It is decided by the lesson: it needs no fence of its own. */
export async function showAlso(
	app: App,
	actor: Actor,
	{ itemId, fromItemId, isAgreed }: { itemId: string; fromItemId: string; isAgreed: boolean }
): Promise<Placed> {
	const { source } = await app.rights.policy();
	const to = widerThan(source, itemId, fromItemId, app.clock.business());
	return transact(app, actor, async (work) => {
		const item = await itemById(work.tx, itemId);
		const asset = await assetOfItem(work.tx, fromItemId);
		if (!item) return { ok: false, code: 'unknown' };
		if (!SHOWS_ASSETS.has(item.kind)) return { ok: false, code: 'cannot-show' };
		if (!asset) return { ok: false, code: 'shows-nothing' };
		if (to.length > 0 && !isAgreed) return { ok: false, code: 'opens-wider', to };
		await dropComing(work, itemId);
		await show(work, item, asset);
		await work.note({
			action: 'placed-content',
			subject: { kind: 'item', id: itemId },
			after: { fileName: asset.fileName, from: fromItemId, opensWiderTo: to }
		});
		return { ok: true };
	});
}

/** A lesson or page shows nothing any more; what it showed stays where it came from. */
export async function showNothing(app: App, actor: Actor, itemId: string): Promise<boolean> {
	return transact(app, actor, async (work) => {
		const item = await itemById(work.tx, itemId);
		if (!item || isBytes(item.kind)) return false;
		await dropComing(work, itemId);
		await work.tx
			.update(placements)
			.set({ state: 'replaced', replacedAt: work.now })
			.where(and(eq(placements.itemId, itemId), eq(placements.state, 'shown')));
		await work.note({ action: 'took-content-away', subject: { kind: 'item', id: itemId } });
		work.contentChanged();
		return true;
	});
}

/** An earlier version takes the place of the one that is shown. */
export async function showEarlier(app: App, actor: Actor, itemId: string, assetId: string): Promise<boolean> {
	return transact(app, actor, async (work) => {
		const item = await itemById(work.tx, itemId);
		const [kept] = await work.tx
			.select({ asset: assets })
			.from(placements)
			.innerJoin(assets, eq(assets.id, placements.assetId))
			.where(
				and(eq(placements.itemId, itemId), eq(placements.assetId, assetId), eq(placements.state, 'replaced'))
			);
		if (!item || !kept || (kept.asset.kind !== 'file' && !kept.asset.stream)) return false;
		await show(work, item, kept.asset);
		await work.note({
			action: 'showed-earlier-content',
			subject: { kind: 'item', id: itemId },
			after: { fileName: kept.asset.fileName }
		});
		return true;
	});
}

/** New content that was on its way is not shown: what is there stays. */
export async function giveUpComing(app: App, actor: Actor, itemId: string): Promise<void> {
	await transact(app, actor, async (work) => {
		if (!(await dropComing(work, itemId))) return;
		await work.note({ action: 'gave-up-content', subject: { kind: 'item', id: itemId } });
		work.contentChanged();
	});
}

async function dropComing({ tx, now }: Work, itemId: string): Promise<boolean> {
	const [dropped] = await tx
		.update(placements)
		.set({ state: 'replaced', replacedAt: now })
		.where(and(eq(placements.itemId, itemId), eq(placements.state, 'coming')));
	return dropped.affectedRows > 0;
}

async function show(work: Work, item: Item, asset: Asset): Promise<void> {
	const { tx, now } = work;
	const before = await assetOfItem(tx, item.id);
	const places = before && isBytes(item.kind) ? await placesOf(work, before.id) : [item.id];
	if (before) {
		await tx
			.update(placements)
			.set({ state: 'replaced', replacedAt: now })
			.where(and(inArray(placements.itemId, places), eq(placements.state, 'shown')));
		await carryOver(work, before, asset);
	}
	for (const itemId of places)
		await tx
			.insert(placements)
			.values({ itemId, assetId: asset.id, state: 'shown' })
			.onDuplicateKeyUpdate({ set: { state: 'shown', replacedAt: null } });
	await tx.update(items).set({ changedAt: now }).where(inArray(items.id, places));
	work.contentChanged();
	const extension = isBytes(item.kind) ? extensionOf(asset.fileName) : item.extension;
	if (extension === item.extension) return;
	await tx.update(items).set({ extension }).where(eq(items.id, item.id));
	work.policyChanged('content of another ending');
}

async function placesOf({ tx }: Work, assetId: string): Promise<string[]> {
	const rows = await tx
		.select({ itemId: placements.itemId })
		.from(placements)
		.where(and(eq(placements.assetId, assetId), eq(placements.state, 'shown')));
	return rows.map(({ itemId }) => itemId);
}

/** What was written beside a film stays with its item, unless the new film brings its own. */
async function carryOver({ tx, now }: Work, before: Asset, asset: Asset): Promise<void> {
	const chapters = before.chapters?.filter(({ startSeconds }) => startSeconds < asset.seconds) ?? [];
	if (asset.chapters === null && chapters.length > 0)
		await tx.update(assets).set({ chapters }).where(eq(assets.id, asset.id));
	const [own] = await tx.select().from(captions).where(eq(captions.assetId, asset.id)).limit(1);
	if (own) return;
	const written = await tx.select().from(captions).where(eq(captions.assetId, before.id));
	for (const { language, label, cues } of written)
		await tx.insert(captions).values({ assetId: asset.id, language, label, cues, changedAt: now });
}
