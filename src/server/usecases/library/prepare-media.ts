/** The job that makes an encrypted stream and pictures of an original. Nothing is shown of it before all is there. */
import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { and, eq } from 'drizzle-orm';
import type { MediaFacts } from '$core/media/facts';
import { gainTo } from '$core/media/loudness';
import { keyGroupOf, sequenceIv, type Variant } from '$core/media/stream';
import { isDiskFull } from '../../disk-full';
import type { Using } from '../../app';
import { assetById, type Asset } from '../../db/queries/library';
import { assets } from '../../db/schema/library';
import { BrokenMedia, DiskFull, type ClearVariant, type MediaShape } from '../../ports/transcoder';
import { showing, showPrepared } from './placements';
import { seal } from './seal';
import type { Transacting } from '../../transact';

/** Shares of the work, for progress. */
const SHARES = { measuring: 0.08, encoding: 0.8, feed: 0.05, encrypting: 0.05 };
const POSTER_AT = 0.1;

type PreparingMedia = Transacting & Using<'bucket' | 'keys' | 'storage' | 'transcoder'>;

interface Preparing {
	app: PreparingMedia;
	asset: Asset;
	original: string;
	shape: MediaShape;
	workFolder: string;
	signal: AbortSignal;
	onProgress: (share: number) => void;
}

export async function prepareMedia(
	app: PreparingMedia,
	assetId: string,
	onProgress: (share: number) => void,
	signal: AbortSignal
): Promise<void> {
	const asset = await assetById(app.db, assetId);
	if (!asset || asset.state === 'ready' || asset.kind === 'file') return;
	await setState(app, asset, 'preparing', null);
	const workFolder = await app.storage.workFolder();
	try {
		const original = await originalOf(app, asset, workFolder, signal);
		const { seconds, width, height, hasSound, kind } = asset;
		const shape = { seconds, width, height, hasSound, hasPicture: kind === 'video' };
		await prepareFrom({ app, asset, original, shape, workFolder, signal, onProgress });
		onProgress(1);
	} catch (error) {
		// Half of it is of no use, and where the disk is full it is in the way.
		await app.storage.removeAll(folderOf(asset)).catch((again: unknown) => {
			app.log.warn({ err: again, assetId }, 'what was half prepared could not be removed');
		});
		await setState(app, asset, 'failed', problemWords(error));
		throw error;
	} finally {
		await rm(workFolder, { recursive: true, force: true });
	}
}

function folderOf(asset: Asset): string {
	return `prepared/${asset.id}/${asset.version + 1}`;
}

function problemWords(error: unknown): string {
	if (error instanceof BrokenMedia) return error.message;
	return isDiskFull(error) ? new DiskFull().message : 'The preparation was interrupted. Run it again.';
}

/** What lies in the object store is brought here for as long as it is worked on. */
async function originalOf(
	app: Using<'bucket' | 'storage'>,
	asset: Asset,
	workFolder: string,
	signal: AbortSignal
): Promise<string> {
	if (asset.source?.kind !== 'bucket') return app.storage.localPath(asset.originalKey);
	if (!app.bucket)
		throw new Error('There is no object store in the settings any more. Set it, then run it again.');
	const path = join(workFolder, 'original');
	await app.bucket.fetchTo(asset.source.key, path, () => {}, signal);
	return path;
}

async function prepareFrom(work: Preparing): Promise<void> {
	const { app, asset, original, shape, workFolder, signal, onProgress } = work;
	const version = asset.version + 1;
	const folder = folderOf(asset);
	await app.storage.removeAll(folder);
	const facts: MediaFacts = { ...asset.facts, ...(await measured(work, folder)) };
	const gainDb = asset.isLevelled && facts.loudness ? gainTo(facts.loudness) : 0;
	let done: number = SHARES.measuring;
	const clear = await app.transcoder.prepare(original, shape, workFolder, gainDb, {
		signal,
		onProgress: (share) => onProgress(done + share * SHARES.encoding)
	});
	done += SHARES.encoding;
	if (asset.kind === 'audio') {
		const feed = join(workFolder, 'feed.mp3');
		const tags = { title: asset.fileName, chapters: asset.chapters ?? [], seconds: asset.seconds };
		await app.transcoder.feedSound(original, feed, tags, gainDb, {
			signal,
			onProgress: (share) => onProgress(done + share * SHARES.feed)
		});
		await app.storage.take(`${folder}/feed.mp3`, feed);
	}
	done += SHARES.feed;
	onProgress(done);
	const secret = app.keys.newSecret();
	const variants: Variant[] = [];
	for (const variant of clear) variants.push(await encryptVariant(app, variant, folder, secret));
	await finish(app, asset, { version, stream: { variants }, secret, facts });
}

/** Loudness, waveform, poster and the small pictures of the bar. */
async function measured(
	{ app, asset, original, shape, signal }: Preparing,
	folder: string
): Promise<MediaFacts> {
	const { transcoder, storage } = app;
	const facts: MediaFacts = {};
	if (shape.hasSound) {
		const loudness = await transcoder.loudness(original, signal);
		if (loudness) facts.loudness = loudness;
		if (!shape.hasPicture) facts.peaks = await transcoder.peaks(original, shape.seconds, signal);
	}
	if (shape.hasPicture) {
		const at = asset.posterSeconds ?? shape.seconds * POSTER_AT;
		const name = asset.posterSeconds === null ? 'poster' : `poster-${asset.posterSeconds}`;
		await storage.put(
			`${folder}/${name}.jpg`,
			await transcoder.poster(original, Math.min(at, shape.seconds))
		);
		const { sheet, facts: thumbs } = await transcoder.thumbs(original, shape, signal);
		await storage.put(`${folder}/thumbs.jpg`, sheet);
		facts.thumbs = thumbs;
	}
	return facts;
}

async function encryptVariant(
	app: Using<'keys' | 'storage'>,
	variant: ClearVariant,
	folder: string,
	secret: { keyId: string; wrapped: string }
): Promise<Variant> {
	const { id, kind, codecs, width, height, segmentSeconds } = variant;
	await app.storage.put(`${folder}/${id}/init.mp4`, await readFile(join(variant.folder, 'init.mp4')));
	let bitsPerSecond = 0;
	for (const [n, seconds] of segmentSeconds.entries()) {
		const key = app.keys.streamKey(secret, id, keyGroupOf(n));
		const sealed = seal(await readFile(join(variant.folder, `${n}.m4s`)), key, sequenceIv(n));
		bitsPerSecond = Math.max(bitsPerSecond, Math.ceil((sealed.length * 8) / seconds));
		await app.storage.put(`${folder}/${id}/${n}.m4s`, sealed);
	}
	return { id, kind, codecs, width, height, segmentSeconds, bitsPerSecond };
}

async function setState(
	app: Using<'db'>,
	asset: Asset,
	state: 'preparing' | 'failed',
	problem: string | null
): Promise<void> {
	await app.db.update(assets).set({ state, problem }).where(eq(assets.id, asset.id));
}

async function finish(
	app: Transacting,
	asset: Asset,
	made: Pick<Asset, 'version' | 'stream' | 'facts'> & { secret: { keyId: string; wrapped: string } }
): Promise<void> {
	await showing(app, null, async (work, isAlike) => {
		const [done] = await work.tx
			.update(assets)
			.set({
				state: 'ready',
				problem: null,
				version: made.version,
				stream: made.stream,
				facts: made.facts,
				wrappedSecret: made.secret.wrapped,
				secretKeyId: made.secret.keyId
			})
			.where(and(eq(assets.id, asset.id), eq(assets.version, asset.version), eq(assets.state, 'preparing')));
		if (done.affectedRows !== 1) throw new Error('Another preparation of the same file was faster');
		work.contentChanged();
		await showPrepared(work, isAlike, asset.id);
		await work.note({ action: 'prepared-media', subject: { kind: 'asset', id: asset.id } });
	});
}
