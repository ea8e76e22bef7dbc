import { rm, stat } from 'node:fs/promises';
import { v7 as uuidv7 } from 'uuid';
import { cleanFileName, titleOf } from '$core/media/file-name';
import type { Actor, App } from '../../app';
import { assets, items, placements } from '../../db/schema/library';
import { transact, type Work } from '../../transact';
import { freeAddress } from './edit-item';

export type Received =
	{ ok: true; itemId: string } | { ok: false; code: 'empty' | 'not-a-video' | 'no-picture' | 'no-length' };

/** Takes over an uploaded file: a draft item that shows it, and the job that prepares it. A refused file is removed. */
export async function receiveVideo(
	app: App,
	actor: Actor,
	upload: { path: string; name: string }
): Promise<Received> {
	const probe = await app.transcoder.probe(upload.path);
	if (!probe.ok) {
		await rm(upload.path, { force: true });
		return probe;
	}
	const assetId = uuidv7();
	const originalKey = `originals/${assetId}`;
	const bytes = (await stat(upload.path)).size;
	await app.storage.take(originalKey, upload.path);
	const { seconds, width, height, hasSound } = probe.video;
	return transact(app, actor, async (work) => {
		await work.tx.insert(assets).values({
			id: assetId,
			kind: 'video',
			fileName: cleanFileName(upload.name),
			originalKey,
			bytes,
			seconds: Math.max(1, Math.round(seconds)),
			width,
			height,
			hasSound,
			state: 'waiting',
			createdAt: work.now
		});
		const title = titleOf(upload.name);
		const itemId = await draftItem(work, title);
		await work.tx.insert(placements).values({ itemId, assetId });
		await work.queue({
			queue: 'media',
			kind: 'prepare',
			key: `prepare:${assetId}`,
			payload: { assetId },
			subjectId: assetId
		});
		await work.note({
			action: 'received-video',
			subject: { kind: 'item', id: itemId },
			after: { title, bytes }
		});
		work.policyChanged('video received');
		return { ok: true, itemId };
	});
}

async function draftItem({ tx, now }: Work, title: string): Promise<string> {
	const id = uuidv7();
	await tx.insert(items).values({
		id,
		kind: 'video',
		title,
		description: '',
		address: await freeAddress(tx, 'video', title, null),
		state: 'draft',
		base: 'closed',
		showsPoster: true,
		createdAt: now,
		changedAt: now
	});
	return id;
}
