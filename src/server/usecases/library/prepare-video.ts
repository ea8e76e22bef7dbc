/** The job that makes an encrypted stream and a poster of an original. Nothing is shown of it before all is there. */
import { createCipheriv } from 'node:crypto';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { and, eq } from 'drizzle-orm';
import { keyGroupOf, sequenceIv, type Variant } from '$core/media/stream';
import type { App } from '../../app';
import { assetById, type Asset } from '../../db/queries/library';
import { assets } from '../../db/schema/library';
import { BrokenVideo, type ClearVariant } from '../../ports/transcoder';
import { transact } from '../../transact';

/** The share of the work that is ffmpeg's; the rest is encryption. */
const TRANSCODING_SHARE = 0.9;
const POSTER_AT = 0.1;

export async function prepareVideo(
	app: App,
	assetId: string,
	onProgress: (share: number) => void,
	signal: AbortSignal
): Promise<void> {
	const asset = await assetById(app.db, assetId);
	if (!asset || asset.state === 'ready') return;
	await setState(app, asset, 'preparing', null);
	const workFolder = await mkdtemp(join(tmpdir(), 'stile-prepare-'));
	try {
		const original = await app.storage.localPath(asset.originalKey);
		const video = {
			seconds: asset.seconds,
			width: asset.width,
			height: asset.height,
			hasSound: asset.hasSound
		};
		const clear = await app.transcoder.prepare(
			original,
			video,
			workFolder,
			(share) => onProgress(share * TRANSCODING_SHARE),
			signal
		);
		const version = asset.version + 1;
		const folder = `prepared/${asset.id}/${version}`;
		await app.storage.removeAll(folder);
		const secret = app.keys.newSecret();
		const variants: Variant[] = [];
		for (const variant of clear) variants.push(await encryptVariant(app, variant, folder, secret));
		await app.storage.put(
			`${folder}/poster.jpg`,
			await app.transcoder.poster(original, asset.seconds * POSTER_AT)
		);
		await finish(app, asset, { version, stream: { variants }, secret });
		onProgress(1);
	} catch (error) {
		const problem =
			error instanceof BrokenVideo ? error.message : 'The preparation was interrupted. Run it again.';
		await setState(app, asset, 'failed', problem);
		throw error;
	} finally {
		await rm(workFolder, { recursive: true, force: true });
	}
}

async function encryptVariant(
	app: App,
	variant: ClearVariant,
	folder: string,
	secret: { keyId: string; wrapped: string }
): Promise<Variant> {
	const { id, kind, codecs, width, height, segmentSeconds } = variant;
	await app.storage.put(`${folder}/${id}/init.mp4`, await readFile(join(variant.folder, 'init.mp4')));
	let bitsPerSecond = 0;
	for (const [n, seconds] of segmentSeconds.entries()) {
		const key = app.keys.streamKey(secret, id, keyGroupOf(n));
		const cipher = createCipheriv('aes-128-cbc', key, sequenceIv(n));
		const clear = await readFile(join(variant.folder, `${n}.m4s`));
		const sealed = Buffer.concat([cipher.update(clear), cipher.final()]);
		bitsPerSecond = Math.max(bitsPerSecond, Math.ceil((sealed.length * 8) / seconds));
		await app.storage.put(`${folder}/${id}/${n}.m4s`, sealed);
	}
	return { id, kind, codecs, width, height, segmentSeconds, bitsPerSecond };
}

async function setState(
	app: App,
	asset: Asset,
	state: 'preparing' | 'failed',
	problem: string | null
): Promise<void> {
	await app.db.update(assets).set({ state, problem }).where(eq(assets.id, asset.id));
}

async function finish(
	app: App,
	asset: Asset,
	made: Pick<Asset, 'version' | 'stream'> & { secret: { keyId: string; wrapped: string } }
): Promise<void> {
	await transact(app, null, async (work) => {
		const [done] = await work.tx
			.update(assets)
			.set({
				state: 'ready',
				problem: null,
				version: made.version,
				stream: made.stream,
				wrappedSecret: made.secret.wrapped,
				secretKeyId: made.secret.keyId
			})
			.where(and(eq(assets.id, asset.id), eq(assets.version, asset.version), eq(assets.state, 'preparing')));
		if (done.affectedRows !== 1) throw new Error('Another preparation of the same video was faster');
		work.contentChanged();
		await work.note({ action: 'prepared-video', subject: { kind: 'asset', id: asset.id } });
	});
}
