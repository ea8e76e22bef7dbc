import { and, eq } from 'drizzle-orm';
import { isReserved, normalisePath } from '$core/access/address';
import type { Actor, App } from '../../app';
import { assetOfItem, isAddressTaken, itemById, preparationOf } from '../../db/queries/library';
import { assets, items } from '../../db/schema/library';
import { jobs } from '../../db/schema/running';
import { transact } from '../../transact';

export type Edited =
	{ ok: true } | { ok: false; code: 'unknown' | 'bad-address' | 'reserved-address' | 'taken-address' };

export async function editItem(
	app: App,
	actor: Actor,
	itemId: string,
	wish: { title: string; description: string; address: string; showsPoster: boolean }
): Promise<Edited> {
	const normal = normalisePath(wish.address);
	if (!normal.ok || normal.path === '/') return { ok: false, code: 'bad-address' };
	if (isReserved(normal.path)) return { ok: false, code: 'reserved-address' };
	return transact(app, actor, async (work) => {
		const before = await itemById(work.tx, itemId);
		if (!before) return { ok: false, code: 'unknown' };
		if (await isAddressTaken(work.tx, normal.path, itemId)) return { ok: false, code: 'taken-address' };
		const after = { ...wish, address: normal.path };
		await work.tx
			.update(items)
			.set({ ...after, changedAt: work.now })
			.where(eq(items.id, itemId));
		await work.note({ action: 'edited-item', subject: { kind: 'item', id: itemId }, before, after });
		if (before.address !== after.address) work.policyChanged('item edited');
		else work.contentChanged();
		return { ok: true };
	});
}

export type Published = { ok: true } | { ok: false; code: 'unknown' | 'not-ready' };

/** Makes an item public or takes it back to a draft. Only what is prepared can be published. */
export async function setPublished(
	app: App,
	actor: Actor,
	itemId: string,
	isPublic: boolean
): Promise<Published> {
	return transact(app, actor, async (work) => {
		const before = await itemById(work.tx, itemId);
		if (!before) return { ok: false, code: 'unknown' };
		const asset = await assetOfItem(work.tx, itemId);
		if (isPublic && asset?.state !== 'ready') return { ok: false, code: 'not-ready' };
		const state = isPublic ? 'published' : 'draft';
		await work.tx.update(items).set({ state, changedAt: work.now }).where(eq(items.id, itemId));
		await work.note({
			action: isPublic ? 'published-item' : 'withdrew-item',
			subject: { kind: 'item', id: itemId },
			before: before.state,
			after: state
		});
		work.policyChanged('item published');
		return { ok: true };
	});
}

/** Runs a failed preparation again. */
export async function prepareAgain(app: App, actor: Actor, itemId: string): Promise<boolean> {
	return transact(app, actor, async (work) => {
		const asset = await assetOfItem(work.tx, itemId);
		if (asset?.state !== 'failed') return false;
		const failed = await preparationOf(work.tx, asset.id);
		await work.tx
			.update(assets)
			.set({ state: 'waiting', problem: null })
			.where(and(eq(assets.id, asset.id), eq(assets.state, 'failed')));
		if (failed) await work.tx.update(jobs).set({ key: null }).where(eq(jobs.id, failed.id));
		await work.queue({
			queue: 'media',
			kind: 'prepare',
			key: `prepare:${asset.id}`,
			payload: { assetId: asset.id },
			subjectId: asset.id
		});
		await work.note({ action: 'prepared-again', subject: { kind: 'asset', id: asset.id } });
		return true;
	});
}
