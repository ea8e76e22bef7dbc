/** Brings in what lies elsewhere: objects of the store, copied or left where they are, and addresses that stay hidden. */
import { rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { v7 as uuidv7 } from 'uuid';
import { cleanFileName, titleOf } from '$core/media/file-name';
import { extensionOf } from '$core/media/kind-of-file';
import type { Using } from '../../app';
import { itemById, insertItems, type NewItem } from '../../db/queries/items';
import type { TakeIn } from '../../jobs/kinds';
import { assets, placements } from '../../db/schema/library';
import { BrokenMedia } from '../../ports/transcoder';
import { OutboundError } from '../../ports/outbound';
import { transact, type Transacting } from '../../transact';
import { arrivalWords } from './arrival-words';
import { freeAddress } from './edit-item';
import { receiveFile } from './receive-file';
import { askedBefore, need, type Staff } from '../../people/need';

/** Queues the taking in of objects: it goes on when the page is left. */
export async function queueTakeIn(
	app: Transacting,
	actor: Staff,
	keys: readonly string[],
	{ isCopied, homeId }: Pick<TakeIn, 'isCopied' | 'homeId'>
): Promise<void> {
	need(actor, 'library');
	await transact(app, actor, async (work) => {
		for (const key of keys)
			await work.queue('take-in', { key, isCopied, homeId, actorId: actor?.id ?? null });
	});
}

/** The job. An object that is refused stays in the store, and the job says why. */
export async function takeIn(
	app: Transacting & Using<'bucket' | 'storage' | 'transcoder'>,
	{ key, isCopied, homeId, actorId }: TakeIn,
	onProgress: (share: number) => void,
	signal: AbortSignal
): Promise<void> {
	if (!app.bucket) throw new BrokenMedia('There is no object store in the settings any more.');
	const found = await app.bucket.open(key);
	if (!found) throw new BrokenMedia(`${key} is not in the object store any more.`);
	const { size } = found;
	found.close();
	const folder = await app.storage.workFolder();
	try {
		const path = join(folder, uuidv7());
		let got = 0;
		await app.bucket.fetchTo(
			key,
			path,
			(count) => {
				got += count;
				onProgress(size === 0 ? 1 : got / size);
			},
			signal
		);
		const actor = askedBefore(actorId, 'library');
		const received = await receiveFile(app, actor, {
			path,
			name: basename(key),
			homeId,
			...(isCopied ? {} : { source: { kind: 'bucket' as const, key } })
		});
		if (!received.ok) throw new BrokenMedia(`${basename(key)}: ${arrivalWords(received.problem)}`);
	} finally {
		await rm(folder, { recursive: true, force: true });
	}
}

export type Referred =
	{ ok: true; itemId: string } | { ok: false; code: OutboundError['code'] | 'no-length'; message: string };

/** A file or recording at an outside address: it is passed through, and the address is never shown. */
export async function referToAddress(
	app: Transacting & Using<'outbound'>,
	actor: Staff,
	{ url, title, homeId }: { url: string; title: string; homeId: string | null }
): Promise<Referred> {
	need(actor, 'library');
	let head;
	try {
		head = await app.outbound.head(url);
	} catch (error) {
		if (error instanceof OutboundError) return { ok: false, code: error.code, message: error.message };
		throw error;
	}
	const { bytes } = head;
	if (bytes === null)
		return { ok: false, code: 'no-length', message: 'The other server does not say how long the file is.' };
	const fileName = cleanFileName(
		decodeURIComponent(new URL(head.url).pathname.split('/').at(-1) ?? '') || 'file'
	);
	const mediaType = head.mediaType ?? 'application/octet-stream';
	const kind = mediaType.startsWith('audio/') ? ('audio' as const) : ('file' as const);
	return transact(app, actor, async (work) => {
		const [assetId, itemId] = [uuidv7(), uuidv7()];
		const home = homeId === null ? null : await itemById(work.tx, homeId);
		const name = title.trim() || titleOf(fileName);
		await work.tx.insert(assets).values({
			id: assetId,
			kind: 'file',
			fileName,
			mediaType,
			source: { kind: 'outside', url },
			originalKey: '',
			bytes,
			seconds: 0,
			width: 0,
			height: 0,
			hasSound: kind === 'audio',
			state: 'ready',
			createdAt: work.now
		});
		const item: NewItem = {
			id: itemId,
			kind,
			title: name.slice(0, 200),
			address: await freeAddress(work.tx, kind, name, home),
			state: 'draft',
			base: 'closed',
			homeId: home?.id ?? null,
			extension: extensionOf(fileName),
			createdAt: work.now
		};
		await insertItems(work.tx, [item]);
		await work.tx.insert(placements).values({ itemId, assetId });
		// The address itself is not written down where others read.
		await work.note({
			action: 'referred-to-address',
			subject: { kind: 'item', id: itemId },
			after: { fileName }
		});
		work.policyChanged('outside file', { resources: [itemId] });
		return { ok: true, itemId };
	});
}
