/** What belongs to a film or recording beside the film: captions, chapters, the picture that stands for it, how it plays. */
import { and, eq } from 'drizzle-orm';
import type { Cue } from '$core/media/captions';
import type { Chapter } from '$core/media/chapters';
import { deterrentsOf, type OwnDeterrents } from '$core/media/deterrents';
import type { Actor, Using } from '../../app';
import { DONE, notDone, type Done } from '../../done';
import { lockItem, updateItem } from '../../db/queries/items';
import { assetOfItem, comingOf, preparationOf, type Asset } from '../../db/queries/library';
import { assets, captions } from '../../db/schema/library';
import { jobs } from '../../db/schema/running';
import { transact, type Work, type Transacting } from '../../transact';
import { AsksForPlaces, expectAgreedPlaces, type PlacesAsked } from '../running/agree-to-places';
import { queuePreparation } from './queue-preparation';
import { need, type Staff } from '../../people/need';

export async function saveCaptions(
	app: Transacting,
	actor: Staff,
	itemId: string,
	{ language, label, cues }: { language: string; label: string; cues: Cue[] }
): Promise<Done> {
	need(actor, 'library');
	return onAsset(app, actor, itemId, async ({ tx, now, note }, asset) => {
		await tx
			.insert(captions)
			.values({ assetId: asset.id, language, label, cues, changedAt: now })
			.onDuplicateKeyUpdate({ set: { label, cues, changedAt: now } });
		await note({
			action: 'saved-captions',
			subject: { kind: 'item', id: itemId },
			after: { language, cues: cues.length }
		});
	});
}

export async function removeCaptions(
	app: Transacting,
	actor: Staff,
	itemId: string,
	language: string
): Promise<Done> {
	need(actor, 'library');
	return onAsset(app, actor, itemId, async ({ tx, note }, asset) => {
		const own = and(eq(captions.assetId, asset.id), eq(captions.language, language));
		const [before] = await tx.select().from(captions).where(own);
		if (!before) return;
		await tx.delete(captions).where(eq(captions.id, before.id));
		await note({ action: 'removed-captions', subject: { kind: 'item', id: itemId }, before });
	});
}

export async function saveChapters(
	app: Transacting,
	actor: Staff,
	itemId: string,
	chapters: Chapter[]
): Promise<Done> {
	need(actor, 'library');
	return onAsset(app, actor, itemId, async ({ tx, note }, asset) => {
		await tx
			.update(assets)
			.set({ chapters: chapters.length > 0 ? chapters : null })
			.where(eq(assets.id, asset.id));
		await note({
			action: 'saved-chapters',
			subject: { kind: 'item', id: itemId },
			before: asset.chapters,
			after: chapters
		});
	});
}

/** A frame of the film as its poster: made at once, from the original. */
export async function choosePoster(
	app: Transacting & Using<'storage' | 'transcoder'>,
	actor: Staff,
	itemId: string,
	seconds: number
): Promise<Done<'unknown' | 'no-frame'>> {
	need(actor, 'library');
	const asset = await assetOfItem(app.db, itemId);
	if (asset?.kind !== 'video' || asset.state !== 'ready' || asset.source !== null) return notDone('no-frame');
	const at = Math.min(Math.max(0, seconds), Math.max(0, asset.seconds - 0.1));
	const picture = await app.transcoder.poster(await app.storage.localPath(asset.originalKey), at);
	await app.storage.put(`prepared/${asset.id}/${asset.version}/poster-${Math.floor(at)}.jpg`, picture);
	return onAsset(app, actor, itemId, async ({ tx, note }) => {
		await tx
			.update(assets)
			.set({ posterSeconds: Math.floor(at) })
			.where(eq(assets.id, asset.id));
		await note({ action: 'chose-poster', subject: { kind: 'item', id: itemId }, after: { seconds: at } });
	});
}

/** A picture of one's own; `null` takes it away again. */
export async function saveCover(
	app: Transacting & Using<'pictures' | 'storage'>,
	actor: Staff,
	itemId: string,
	path: string | null
): Promise<Done<'unknown' | 'no-picture'>> {
	need(actor, 'library');
	const picture = path === null ? null : await app.pictures.cover(path);
	if (path !== null && !picture) return notDone('no-picture');
	const coverKey = picture ? `covers/${itemId}/${app.clock.wall()}.jpg` : null;
	if (picture && coverKey) await app.storage.put(coverKey, picture);
	return transact(app, actor, async ({ tx, now, note, contentChanged }) => {
		const item = await lockItem(tx, itemId);
		if (!item) return notDone('unknown');
		await updateItem(tx, item, { coverKey }, now);
		await note({ action: 'saved-cover', subject: { kind: 'item', id: itemId }, after: { coverKey } });
		contentChanged();
		return DONE;
	});
}

export interface PlayingWish {
	wayId: string | null;
	opensInBrowser: boolean;
	/** `null`: nothing of its own. */
	deterrents: OwnDeterrents | null;
}

export type SavedPlaying =
	{ kind: 'saved' } | { kind: 'asks'; places: PlacesAsked } | { kind: 'refused'; code: 'unknown' };

export async function savePlaying(
	app: Transacting & Using<'site'>,
	actor: Staff,
	itemId: string,
	wish: PlayingWish,
	agreedTo: string | null = null
): Promise<SavedPlaying> {
	need(actor, 'library');
	const { deterrents: site } = await app.site();
	try {
		return await transact<SavedPlaying>(app, actor, async ({ tx, now, note, contentChanged }) => {
			const before = await lockItem(tx, itemId);
			if (!before) return { kind: 'refused', code: 'unknown' };
			const { wayId, opensInBrowser, deterrents } = before;
			expectAgreedPlaces(
				itemId,
				deterrentsOf(site, deterrents),
				deterrentsOf(site, wish.deterrents),
				agreedTo
			);
			await updateItem(tx, before, wish, now);
			await note({
				action: 'saved-playing',
				subject: { kind: 'item', id: itemId },
				before: { wayId, opensInBrowser, deterrents },
				after: wish
			});
			contentChanged();
			return { kind: 'saved' };
		});
	} catch (error) {
		if (error instanceof AsksForPlaces) return { kind: 'asks', places: error.asked };
		throw error;
	}
}

/** Brings the sound to the usual loudness, or leaves it as it came: it is prepared anew, and plays as before meanwhile. */
export async function prepareAnew(
	app: Transacting,
	actor: Staff,
	itemId: string,
	isLevelled: boolean
): Promise<Done> {
	need(actor, 'library');
	return onAsset(app, actor, itemId, async (work, asset) => {
		await work.tx
			.update(assets)
			.set({ isLevelled, state: 'waiting', problem: null })
			.where(eq(assets.id, asset.id));
		await queuePreparation(work, asset.id);
		await work.note({
			action: 'prepared-again',
			subject: { kind: 'asset', id: asset.id },
			after: { isLevelled }
		});
	});
}

/** Stops a preparation that waits or runs. It can be run again. */
export async function cancelPreparation(app: Transacting, actor: Staff, itemId: string): Promise<Done> {
	need(actor, 'library');
	return onAsset(app, actor, itemId, async ({ tx, note }, shown) => {
		const asset = (await comingOf(tx, itemId)) ?? shown;
		const job = await preparationOf(tx, asset.id);
		if (!job || (job.state !== 'waiting' && job.state !== 'running')) return;
		// Whoever runs it loses its lease, and stops.
		await tx
			.update(jobs)
			.set({ state: 'failed', leaseToken: null, problem: 'Stopped by hand.' })
			.where(eq(jobs.id, job.id));
		await tx
			.update(assets)
			.set({ state: 'failed', problem: 'Stopped by hand. Run it again when you like.' })
			.where(eq(assets.id, asset.id));
		await note({ action: 'stopped-preparation', subject: { kind: 'asset', id: asset.id } });
	});
}

async function onAsset(
	app: Transacting,
	actor: Actor,
	itemId: string,
	change: (work: Work, asset: Asset) => Promise<void>
): Promise<Done> {
	return transact(app, actor, async (work) => {
		const asset = await assetOfItem(work.tx, itemId);
		if (!asset) return notDone('unknown');
		await change(work, asset);
		work.contentChanged();
		return DONE;
	});
}
