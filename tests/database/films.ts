/** Real films, small ones, and what is asked of them in tests. */
import { execFileSync } from 'node:child_process';
import { assetOfItem, type Asset } from '$server/db/queries/library';
import { receiveFile } from '$server/usecases/library/receive-file';
import { scratch, type World } from './world';

let count = 0;

/** A picture that moves, and a tone. */
export function film(seconds: number, size: string): string {
	const path = scratch(`film-${++count}.mp4`);
	const inputs = ['-f', 'lavfi', '-i', `testsrc2=size=${size}:rate=25`, '-f', 'lavfi', '-i', 'sine=440'];
	const encoding = ['-t', String(seconds), '-c:v', 'libx264', '-preset', 'ultrafast', '-c:a', 'aac'];
	execFileSync('ffmpeg', ['-v', 'error', ...inputs, ...encoding, '-pix_fmt', 'yuv420p', path]);
	return path;
}

/** Brings a film in, and gives its item. */
export async function receivedFilm({ app }: World, path: string, replaces?: string): Promise<string> {
	const received = await receiveFile(app, null, {
		path,
		name: 'film.mp4',
		...(replaces ? { replaces } : {})
	});
	if (!received.ok) throw new Error(received.problem.code);
	return received.itemId;
}

export async function assetOf({ app }: World, itemId: string): Promise<Asset> {
	const asset = await assetOfItem(app.db, itemId);
	if (!asset) throw new Error('It shows nothing');
	return asset;
}
