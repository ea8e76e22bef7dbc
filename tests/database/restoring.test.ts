/** Backup and restore, by the very commands that docs/operations.md names: what was kept plays and is sold again. */
import { execFileSync } from 'node:child_process';
import { createDecipheriv } from 'node:crypto';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createConnection, type Connection, type RowDataPacket } from 'mysql2/promise';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { compose } from '$server/compose';
import type { Settings } from '$server/settings';
import { transact } from '$server/transact';
import { assetOf, film, receivedFilm } from './films';
import { buy, makeShop, makeWorld, type World } from './world';

let world: World;
let admin: Connection;
let folder: string;
let restored: Settings;
let streamId: string;
let boughtId: string;
let memberId: string;

/** The commands under a heading of the documentation. */
function commandsUnder(heading: string): string {
	const [, after = ''] = readFileSync('docs/operations.md', 'utf8').split(`**${heading}**`);
	const [, commands] = /```sh\n([\s\S]*?)```/.exec(after) ?? [];
	if (!commands) throw new Error(`docs/operations.md has no commands under ${heading}`);
	return commands;
}

function run(heading: string, env: Record<string, string>): void {
	execFileSync('bash', ['-euo', 'pipefail', '-c', commandsUnder(heading)], {
		env: { PATH: process.env.PATH ?? '', HOME: folder, ...env },
		stdio: ['ignore', 'ignore', 'pipe']
	});
}

const count = async (database: string, table: string) =>
	(await admin.query<RowDataPacket[]>(`SELECT COUNT(*) AS n FROM ${database}.${table}`))[0][0]?.n as number;

beforeAll(async () => {
	world = await makeWorld();
	const shop = await makeShop(world);
	boughtId = shop.itemId;
	({ memberId } = await buy(world, shop.slug));
	streamId = await receivedFilm(world, film(4, '320x180'));
	await world.stile.runner.runDue('media');

	const { settings } = world.app;
	const url = new URL(settings.databaseUrl);
	const database = url.pathname.slice(1);
	folder = mkdtempSync(join(tmpdir(), 'stile-backup-'));
	writeFileSync(
		join(folder, '.my.cnf'),
		[
			'[client]',
			'protocol=tcp',
			`host=${url.hostname}`,
			`port=${url.port}`,
			`user=${decodeURIComponent(url.username)}`,
			`password=${decodeURIComponent(url.password)}`
		].join('\n'),
		{ mode: 0o600 }
	);
	mkdirSync(join(folder, 'kept'));
	restored = {
		...settings,
		databaseUrl: settings.databaseUrl.replace(database, `${database}_restored`),
		storageFolder: join(folder, 'storage')
	};
	admin = await createConnection(settings.databaseUrl);
	await admin.query(`CREATE DATABASE ${database}_restored`);
	run('Backup', { DATABASE: database, STILE_STORAGE: settings.storageFolder, BACKUP: join(folder, 'kept') });
	run('Restore', {
		DATABASE: `${database}_restored`,
		STILE_STORAGE: restored.storageFolder,
		BACKUP: join(folder, 'kept')
	});
});
afterAll(async () => {
	await admin.query(`DROP DATABASE ${new URL(restored.databaseUrl).pathname.slice(1)}`);
	await admin.end();
	rmSync(folder, { recursive: true });
	await world.end();
});

it('brings back every row of every table', async () => {
	const before = new URL(world.app.settings.databaseUrl).pathname.slice(1);
	const after = new URL(restored.databaseUrl).pathname.slice(1);
	const [tables] = await admin.query<RowDataPacket[]>(`SHOW TABLES FROM ${before}`);
	const names = tables.map((row) => String(Object.values(row)[0]));
	expect(names.length).toBeGreaterThan(30);
	for (const name of names) expect(await count(after, name), name).toBe(await count(before, name));
});

it('decrypts a film, lets in who bought, and keeps the triggers', async () => {
	const stile = await compose(restored);
	const { app } = stile;
	try {
		const asset = await assetOf({ app } as World, streamId);
		const [variant] = asset.stream?.variants ?? [];
		const sealed = await app.storage.whole(`prepared/${asset.id}/${asset.version}/${variant?.id}/0.m4s`);
		const key = app.keys.streamKey(
			{ keyId: asset.secretKeyId ?? '', wrapped: asset.wrappedSecret ?? '' },
			variant?.id ?? '',
			0
		);
		const decipher = createDecipheriv('aes-128-cbc', key, Buffer.alloc(16));
		const clear = Buffer.concat([decipher.update(sealed ?? Buffer.alloc(0)), decipher.final()]);
		// A media segment begins with a box of type styp or moof (ISO/IEC 14496-12, 8.16.2 and 8.8.4).
		expect(['styp', 'moof']).toContain(clear.toString('latin1', 4, 8));

		const standing = await app.rights.standing(memberId);
		if (!standing) throw new Error('The member is gone');
		expect((await app.rights.decideFor(standing.viewer, boughtId)).verdict).toBe('open');
		await expect(transact(app, null, (work) => work.tx.execute('DELETE FROM receipts'))).rejects.toThrow();
	} finally {
		await stile.stop();
	}
});

it('says at start that a master key of the same name opens nothing', async () => {
	const other = { ...restored, masterKey: Buffer.alloc(32, 7) };
	await expect(compose(other)).rejects.toThrow(/master key named k1 does not open/);
});
