/**
 * What an item shows, and how other content takes its place: the address stays, and what was there is shown until the new
 * content can be. What a film or file is replaced by, every lesson and page that shows it shows, too. Content of another
 * ending may go past other fences: then it waits until somebody has said yes to what that moves.
 */
import { and, eq, inArray } from 'drizzle-orm';
import { isCaughtAlike } from '$core/access/ending';
import type { PolicySource } from '$core/access/model';
import { widerThan, type Opened } from '$core/access/wider';
import { extensionOf } from '$core/media/kind-of-file';
import { isBytes, SHOWS_ASSETS } from '$core/library/homes';
import type { Actor } from '../../app';
import { DONE, notDone, type Done } from '../../done';
import { itemById, updateItem, type Item } from '../../db/queries/items';
import { assetById, assetOfItem, comingOf, type Asset } from '../../db/queries/library';
import { assets, captions, placements } from '../../db/schema/library';
import { revisionOf } from '../../revision';
import { PolicyMoved, transact, type Work, type Transacting } from '../../transact';
import { consentOf, saveRehearsed, type KeptRehearsal, type Rehearsing } from '../access/rehearsed-save';
import { need, type Staff } from '../../people/need';

/** Whether the item is caught by the same fences with a file of that ending. */
type CaughtAlike = (itemId: string, extension: string | null) => boolean;

/** A transaction that may show content. A fence that somebody saves at the same time is looked at, too. */
export function showing<T>(
	app: Transacting,
	actor: Actor,
	body: (work: Work, isAlike: CaughtAlike) => Promise<T>
): Promise<T> {
	const policyNow = () => app.rights.known().policy;
	return transact(
		app,
		actor,
		(work) => body(work, (itemId, extension) => isCaughtAlike(policyNow(), itemId, extension)),
		({ since }) => {
			if (since.some(({ delta }) => delta.some(({ kind }) => kind === 'fence')))
				throw new PolicyMoved('A fence was saved meanwhile');
		}
	);
}

/** New content of an item. Where something is shown already, it comes when it is prepared. */
export async function giveContent(work: Work, isAlike: CaughtAlike, item: Item, asset: Asset): Promise<void> {
	const before = await assetOfItem(work.tx, item.id);
	const isLater = before?.stream && asset.kind !== 'file' && !asset.stream;
	if (isLater || !isAlike(item.id, endingWith(item, asset))) await letCome(work, item.id, asset.id);
	else await show(work, item, asset);
}

/** Shows what has been prepared wherever it was waited for, except where somebody has to say yes first. */
export async function showPrepared(work: Work, isAlike: CaughtAlike, assetId: string): Promise<void> {
	const waited = await work.tx
		.select({ itemId: placements.itemId })
		.from(placements)
		.where(and(eq(placements.assetId, assetId), eq(placements.state, 'coming')));
	const asset = waited.length > 0 ? await assetById(work.tx, assetId) : null;
	for (const { itemId } of waited) {
		const item = await itemById(work.tx, itemId);
		if (item && asset && isAlike(item.id, endingWith(item, asset))) await show(work, item, asset);
	}
}

export type ShownComing =
	| { kind: 'saved' }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	/** Nothing has come, or it is not prepared. */
	| { kind: 'refused' };

/** Shows what has come and waits for a yes, for its ending moves who may open it. */
export async function showComing(
	app: Rehearsing,
	actor: Staff,
	itemId: string,
	agreedTo: string | null
): Promise<ShownComing> {
	need(actor, 'library');
	const item = await itemById(app.db, itemId);
	const asset = await comingOf(app.db, itemId);
	if (!item || !asset || !canBeShown(asset)) return { kind: 'refused' };
	const extension = endingWith(item, asset);
	const change = (source: PolicySource): PolicySource => ({
		...source,
		resources: source.resources.map((one) => (one.id === itemId ? { ...one, extension } : one))
	});
	const saved = await saveRehearsed(app, actor, await consentOf(app, agreedTo), change, async (work) => {
		const still = await comingOf(work.tx, itemId);
		const current = await itemById(work.tx, itemId);
		if (still?.id !== asset.id || !current) return false;
		await show(work, current, still);
		await work.note({
			action: 'showed-content',
			subject: { kind: 'item', id: itemId },
			after: { fileName: still.fileName }
		});
		return true;
	});
	if (saved.kind === 'rehearsed') return saved;
	return { kind: saved.value ? 'saved' : 'refused' };
}

export type Placed =
	| { ok: true }
	| { ok: false; code: 'unknown' | 'shows-nothing' | 'cannot-show' }
	/** It would open what is shown to people who cannot open it where it comes from: somebody has to say yes. */
	| { ok: false; code: 'opens-wider'; to: Opened[]; yes: string };

/** Shows on a lesson or page what another item shows. It is decided by the lesson: it needs no fence of its own. */
export async function showAlso(
	app: Rehearsing,
	actor: Staff,
	{ itemId, fromItemId, agreedTo }: { itemId: string; fromItemId: string; agreedTo: string | null }
): Promise<Placed> {
	need(actor, 'library');
	const { source } = await app.rights.policy();
	const named = [...(await app.population.all()).values()].filter(({ namings }) => namings.length > 0);
	const to = widerThan(source, itemId, fromItemId, app.clock.business(), named);
	return transact(app, actor, async (work) => {
		const item = await itemById(work.tx, itemId);
		const asset = await assetOfItem(work.tx, fromItemId);
		if (!item) return { ok: false, code: 'unknown' };
		if (!SHOWS_ASSETS.has(item.kind)) return { ok: false, code: 'cannot-show' };
		if (!asset) return { ok: false, code: 'shows-nothing' };
		// The yes is to these people, this film and this page, and to nothing else.
		const yes = revisionOf({ itemId, fromItemId, assetId: asset.id, to });
		if (to.length > 0 && agreedTo !== yes) return { ok: false, code: 'opens-wider', to, yes };
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
export async function showNothing(app: Transacting, actor: Staff, itemId: string): Promise<Done> {
	need(actor, 'library');
	return transact(app, actor, async (work) => {
		const item = await itemById(work.tx, itemId);
		if (!item || isBytes(item.kind)) return notDone('unknown');
		await dropComing(work, itemId);
		await work.tx
			.update(placements)
			.set({ state: 'replaced', replacedAt: work.now })
			.where(and(eq(placements.itemId, itemId), eq(placements.state, 'shown')));
		await work.note({ action: 'took-content-away', subject: { kind: 'item', id: itemId } });
		work.contentChanged();
		return DONE;
	});
}

/** An earlier version takes the place of the one that is shown, or waits for a yes to do so. */
export async function showEarlier(
	app: Transacting,
	actor: Staff,
	itemId: string,
	assetId: string
): Promise<'shown' | 'waits' | 'refused'> {
	need(actor, 'library');
	return showing(app, actor, async (work, isAlike) => {
		const item = await itemById(work.tx, itemId);
		const [kept] = await work.tx
			.select({ asset: assets })
			.from(placements)
			.innerJoin(assets, eq(assets.id, placements.assetId))
			.where(
				and(eq(placements.itemId, itemId), eq(placements.assetId, assetId), eq(placements.state, 'replaced'))
			);
		if (!item || !kept || !canBeShown(kept.asset)) return 'refused';
		if (!isAlike(itemId, endingWith(item, kept.asset))) {
			await letCome(work, itemId, assetId);
			work.contentChanged();
			return 'waits';
		}
		await show(work, item, kept.asset);
		await work.note({
			action: 'showed-earlier-content',
			subject: { kind: 'item', id: itemId },
			after: { fileName: kept.asset.fileName }
		});
		return 'shown';
	});
}

/** New content that was on its way is not shown: what is there stays. */
export async function giveUpComing(app: Transacting, actor: Staff, itemId: string): Promise<void> {
	need(actor, 'library');
	await transact(app, actor, async (work) => {
		if (!(await dropComing(work, itemId))) return;
		await work.note({ action: 'gave-up-content', subject: { kind: 'item', id: itemId } });
		work.contentChanged();
	});
}

function canBeShown({ kind, stream }: Asset): boolean {
	return kind === 'file' || stream !== null;
}

/** The ending that counts for access: that of the bytes, where the item is nothing else. */
function endingWith(item: Item, asset: Asset): string | null {
	return isBytes(item.kind) ? extensionOf(asset.fileName) : item.extension;
}

async function letCome(work: Work, itemId: string, assetId: string): Promise<void> {
	await dropComing(work, itemId);
	await work.tx
		.insert(placements)
		.values({ itemId, assetId, state: 'coming' })
		.onDuplicateKeyUpdate({ set: { state: 'coming', replacedAt: null } });
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
	for (const itemId of places) await updateItem(tx, { id: itemId, kind: item.kind }, {}, now);
	work.contentChanged();
	const extension = endingWith(item, asset);
	if (extension === item.extension) return;
	await updateItem(tx, item, { extension }, now);
	work.policyChanged('content of another ending', { resources: [item.id] });
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
