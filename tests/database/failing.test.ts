/** What goes wrong while media is prepared or sent: nothing half done is shown, it is said what happened, and it can be run again. */
import { readdirSync, readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, onTestFinished, vi } from 'vitest';
import { ffmpeg } from '$server/adapters/ffmpeg';
import { preparationOf } from '$server/db/queries/library';
import { accounts } from '$server/db/schema/people';
import { createFront } from '$server/http/front';
import { beginSession } from '$server/people/sessions';
import { sessionCookie } from '$server/http/cookies';
import { forgetUnfinished } from '$server/http/uploads';
import { BrokenMedia, DiskFull } from '$server/ports/transcoder';
import { setState } from '$server/usecases/library/edit-item';
import { transact } from '$server/transact';
import { assetOf, film, receivedFilm } from './films';
import { makeWorld, type World } from './world';

/** Films are encoded here, beside whatever else the machine does. */
const SLOW_MS = 180_000;

let world: World;

beforeAll(async () => {
	world = await makeWorld();
});
afterAll(async () => world.end());

/** What is kept of an asset beside its original. */
function keptOf(assetId: string): string[] {
	try {
		return readdirSync(join(world.app.settings.storageFolder, 'prepared', assetId));
	} catch {
		return [];
	}
}

/** Runs what is due until the film is prepared: a failed job comes again by itself, after a pause. */
async function preparedInTheEnd(itemId: string): Promise<void> {
	await expect
		.poll(
			async () => {
				await world.stile.runner.runDue('media');
				return (await assetOf(world, itemId)).state;
			},
			{ timeout: SLOW_MS / 2, interval: 300 }
		)
		.toBe('ready');
}

async function publish(itemId: string) {
	return setState(world.app, null, itemId, { state: 'published', publishAt: null });
}

/** Ids of the programs that this process has started and that run now. */
function children(name: string): number[] {
	return readdirSync('/proc').flatMap((id) => {
		if (!/^\d+$/.test(id)) return [];
		try {
			const [, called, , parent] =
				/^\d+ \((.*)\) (\S) (\d+)/.exec(readFileSync(`/proc/${id}/stat`, 'utf8')) ?? [];
			return called === name && Number(parent) === process.pid ? [Number(id)] : [];
		} catch {
			return [];
		}
	});
}

describe('a preparation', () => {
	it(
		'whose ffmpeg is killed shows nothing, says so, and is run again',
		async () => {
			const itemId = await receivedFilm(world, film(12, '640x360'));
			const run = world.stile.runner.runDue('media');
			await expect
				.poll(
					async () => ((await assetOf(world, itemId)).state === 'preparing' ? children('ffmpeg').length : 0),
					{
						timeout: 20_000,
						interval: 20
					}
				)
				.toBeGreaterThan(0);
			for (const id of children('ffmpeg')) process.kill(id, 'SIGKILL');
			await run;
			const asset = await assetOf(world, itemId);
			expect(asset).toMatchObject({
				state: 'failed',
				problem: 'The preparation was interrupted. Run it again.',
				stream: null
			});
			expect(keptOf(asset.id)).toEqual([]);
			expect(await publish(itemId)).toEqual({ kind: 'refused', code: 'not-ready' });
			expect(await preparationOf(world.app.db, asset.id)).toMatchObject({ state: 'waiting' });
			await preparedInTheEnd(itemId);
			expect((await publish(itemId)).kind).toBe('saved');
		},
		SLOW_MS
	);

	it(
		'that fills the disk leaves nothing in its way, says what to do, and is run again',
		async () => {
			const itemId = await receivedFilm(world, film(6, '320x180'));
			const { storage } = world.app;
			const { put } = storage;
			let count = 0;
			storage.put = async (key, bytes) => {
				if (++count > 4) throw Object.assign(new Error('no space left on device, write'), { code: 'ENOSPC' });
				await put(key, bytes);
			};
			await world.stile.runner.runDue('media');
			storage.put = put;
			expect(count).toBeGreaterThan(4);
			const asset = await assetOf(world, itemId);
			expect(asset).toMatchObject({
				state: 'failed',
				problem: 'The disk of the server is full. Make room, then run it again.',
				stream: null
			});
			expect(keptOf(asset.id)).toEqual([]);
			await preparedInTheEnd(itemId);
		},
		SLOW_MS
	);

	it('knows a full disk from a broken film', async () => {
		const work = { onProgress: () => {}, signal: new AbortController().signal };
		const inputs = ['-v', 'error', '-i', film(2, '320x180'), '-vn'];
		// A device that never has room (man 4 full).
		await expect(ffmpeg([...inputs, '-f', 'mp3', '-y', '/dev/full'], 2, work)).rejects.toBeInstanceOf(
			DiskFull
		);
		await expect(
			ffmpeg(['-v', 'error', '-xerror', '-i', '/dev/null', '-f', 'null', '-'], 2, work)
		).rejects.toBeInstanceOf(BrokenMedia);
	});
});

describe('an upload', () => {
	it('for which the disk has no room is refused before it begins, with how much there is', async () => {
		const front = createFront(world.stile);
		const server = createServer((req, res) => void front(req, res));
		await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
		onTestFinished(() => void server.close());
		const { storage, settings } = world.app;
		const { freeBytes } = storage;
		storage.freeBytes = async () => 100 * 1024 ** 2;
		onTestFinished(() => void (storage.freeBytes = freeBytes));
		const cookie = await staffCookie();
		const ask = (length: number) =>
			fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}/desk/uploads`, {
				method: 'POST',
				headers: {
					cookie,
					origin: settings.origin,
					'tus-resumable': '1.0.0',
					'upload-length': String(length),
					'upload-metadata': `filename ${btoa('film.mp4')}`
				}
			});
		const refused = await ask(40 * 1024 ** 2);
		expect([refused.status, await refused.text()]).toEqual([
			507,
			'This file has 40 MB, and the disk of the server has room for 36 MB. Make room, then go on.'
		]);
		expect((await ask(20 * 1024 ** 2)).status).toBe(201);
	});

	it('that nobody goes on with is forgotten after a week', async () => {
		const folder = join(world.app.settings.storageFolder, 'uploads');
		const kept = () => readdirSync(folder).filter((name) => name.endsWith('.json')).length;
		expect(kept()).toBe(1);
		await forgetUnfinished(world.app);
		expect(kept()).toBe(1);
		vi.useFakeTimers({ now: Date.now() + 7 * 86_400_000 + 1000, toFake: ['Date'] });
		onTestFinished(() => void vi.useRealTimers());
		await forgetUnfinished(world.app);
		expect(readdirSync(folder)).toEqual([]);
	});
});

async function staffCookie(): Promise<string> {
	const { app } = world;
	const memberId = await transact(app, null, async ({ tx, now }) => {
		const [made] = await tx
			.insert(accounts)
			.values({ email: 'ottilie@fernhollow.example', name: 'Ottilie', role: 'owner', createdAt: now })
			.$returningId();
		return made?.id ?? '';
	});
	const session = await transact(app, null, (work) => beginSession(work, memberId, 'password'));
	return `${sessionCookie(app)}=${session.token}`;
}
