/** Takes over a file that has come, by whichever way: an item that shows it, or new content for one that is there. */
import { rm } from 'node:fs/promises';
import { v7 as uuidv7 } from 'uuid';
import { SHOWS_ASSETS } from '$core/library/homes';
import { cleanFileName, titleOf } from '$core/media/file-name';
import type { Using } from '../../app';
import { itemById, insertItems, type NewItem } from '../../db/queries/items';
import { assetById } from '../../db/queries/library';
import { assets, type AssetKind, type AssetSource } from '../../db/schema/library';
import type { Work, Transacting } from '../../transact';
import { arrange, lockHome } from './arrange';
import { freeAddress } from './edit-item';
import { lookAtFile, type LookedAt } from './look-at-file';
import { giveContent, showing } from './placements';
import { queuePreparation } from './queue-preparation';
import { need, type Staff } from '../../people/need';

type Problem = Extract<LookedAt, { ok: false }>['problem'];

export type Received =
	{ ok: true; itemId: string } | { ok: false; problem: Problem | { code: 'unknown-item' | 'another-kind' } };

export interface Arrival {
	/** A file of the local disk: it is taken away, or removed where it is refused. */
	path: string;
	name: string;
	/** The shelf that a new item is put on. */
	homeId?: string | null;
	/** An item that is to show it, in place of what it shows. */
	replaces?: string | null;
	/** Whether a file that is refused stays where it is. */
	keepsRefused?: boolean;
	/** Where it stays, when it is not copied into storage. */
	source?: AssetSource;
}

export async function receiveFile(
	app: Transacting & Using<'storage' | 'transcoder'>,
	actor: Staff,
	arrival: Arrival
): Promise<Received> {
	need(actor, 'library');
	const { path, name } = arrival;
	const looked = await lookAtFile(app, path, name);
	const before = arrival.replaces ? await itemById(app.db, arrival.replaces) : null;
	const problem = !looked.ok
		? looked.problem
		: arrival.replaces && !before
			? { code: 'unknown-item' as const }
			: before && before.kind !== looked.file.kind && !SHOWS_ASSETS.has(before.kind)
				? { code: 'another-kind' as const }
				: null;
	if (problem || !looked.ok) {
		if (!arrival.keepsRefused) await rm(path, { force: true });
		return { ok: false, problem: problem ?? { code: 'unknown-item' } };
	}
	const assetId = uuidv7();
	const originalKey = `originals/${assetId}`;
	if (arrival.source) await rm(path, { force: true });
	else await app.storage.take(originalKey, path);
	const received = showing<Received>(app, actor, async (work, isAlike) => {
		await insertAsset(work, assetId, originalKey, arrival, looked);
		const itemId = before?.id ?? (await draftItem(work, arrival, looked));
		const [item, asset] = [await itemById(work.tx, itemId), await assetById(work.tx, assetId)];
		if (item && asset) await giveContent(work, isAlike, item, asset);
		if (looked.file.kind !== 'file') await queuePreparation(work, assetId);
		await work.note({
			action: before ? 'replaced-content' : 'received-file',
			subject: { kind: 'item', id: itemId },
			after: { name: cleanFileName(name), bytes: looked.bytes, kind: looked.file.kind }
		});
		if (!before) work.policyChanged('file received', { resources: [itemId] });
		return { ok: true, itemId };
	});
	return received.catch(async (error: unknown) => {
		// Nothing was written: the file goes back to where it came from, so that it can be received again.
		if (!arrival.source) await app.storage.giveBack(originalKey, path);
		throw error;
	});
}

async function insertAsset(
	{ tx, now }: Work,
	id: string,
	originalKey: string,
	{ name, source }: Arrival,
	{ file, media, facts, bytes }: Extract<LookedAt, { ok: true }>
): Promise<void> {
	await tx.insert(assets).values({
		id,
		kind: file.kind satisfies AssetKind,
		fileName: cleanFileName(name),
		mediaType: file.mediaType,
		source: source ?? null,
		originalKey,
		bytes,
		seconds: media ? Math.max(1, Math.round(media.seconds)) : 0,
		width: media?.width ?? 0,
		height: media?.height ?? 0,
		hasSound: media?.hasSound ?? false,
		facts,
		chapters: media && media.chapters.length > 0 ? media.chapters : null,
		// Files are sent as they are: there is nothing to prepare.
		state: file.kind === 'file' ? 'ready' : 'waiting',
		createdAt: now
	});
}

async function draftItem(
	{ tx, now }: Work,
	{ name, homeId = null }: Arrival,
	{ file }: Extract<LookedAt, { ok: true }>
): Promise<string> {
	const id = uuidv7();
	await lockHome({ tx }, homeId);
	const home = homeId === null ? null : await itemById(tx, homeId);
	const title = titleOf(name);
	const item: NewItem = {
		id,
		kind: file.kind,
		title,
		address: await freeAddress(tx, file.kind, title, home),
		state: 'draft',
		base: 'closed',
		homeId: home?.id ?? null,
		extension: file.extension,
		showsPoster: file.kind === 'video',
		createdAt: now
	};
	await insertItems(tx, [item]);
	if (home) await arrange({ tx }, home.id, id);
	return id;
}
