import { createServer, get, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { BURST_GROUPS, GROUP_MS } from '$core/media/pace';
import { NO_LIMITS } from '$core/access/model';
import { compose, type Stile } from '$server/compose';
import { keyPaces, uses } from '$server/db/schema/access';
import { assets, placements } from '$server/db/schema/library';
import { createFront } from '$server/http/front';
import { lookOf } from '$server/rights/look';
import { streamAddress } from '$server/http/media/streams';
import { beginSession } from '$server/people/sessions';
import { sessionCookie } from '$server/http/cookies';
import { shownItem } from '$server/rights/shown';
import { addMember } from '$server/usecases/accounts/run-members';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { forgetPaces } from '$server/usecases/library/key-pace';
import { saveFence } from '$server/usecases/fences/save-fence';
import { transact } from '$server/transact';
import { endGrant, holding, makeShop, makeWorld, type World } from './world';

const SEGMENTS = 300;

let world: World;
let server: Server;
let node: Stile;
let second: Server;
let itemId: string;
let planId: string;

beforeAll(async () => {
	world = await makeWorld();
	({ itemId, planId } = await makeShop(world));
	const secret = world.app.keys.newSecret();
	const variant = {
		id: 'v0',
		kind: 'video' as const,
		codecs: 'avc1.64001e',
		bitsPerSecond: 1000,
		width: 640,
		height: 360,
		segmentSeconds: Array.from({ length: SEGMENTS }, () => 2)
	};
	await transact(world.app, null, async (work) => {
		const [placed] = await work.tx.select().from(placements).where(eq(placements.itemId, itemId));
		await work.tx
			.update(assets)
			.set({
				version: 1,
				stream: { variants: [variant] },
				wrappedSecret: secret.wrapped,
				secretKeyId: secret.keyId
			})
			.where(eq(assets.id, placed?.assetId ?? ''));
		work.contentChanged();
	});
	server = await serve(world.stile);
	node = await compose(world.app.settings);
	second = await serve(node);
});
afterAll(async () => {
	for (const one of [server, second]) {
		one.closeAllConnections();
		one.close();
	}
	await node.stop();
	await world.end();
});

async function serve({ app, practice }: Stile): Promise<Server> {
	const front = createFront({ app, practice });
	const made = createServer((req, res) => {
		req.headers.host = new URL(app.settings.origin).host;
		void Promise.resolve(front(req, res)).then((hasAnswered) => hasAnswered || res.writeHead(404).end());
	});
	await new Promise<void>((resolve) => made.listen(0, '127.0.0.1', resolve));
	return made;
}

/** A member who holds the plan: their cookie, and the folder of the stream they are given. */
async function viewer(name: string) {
	const { app } = world;
	const added = await addMember(app, null, { email: `${name}@mail.example`, name, planId, until: null });
	if (!added.ok) throw new Error(added.code);
	const session = await transact(app, null, (work) => beginSession(work, added.memberId, 'password'));
	const standing = await app.rights.standing(added.memberId);
	const shown = await shownItem(app, itemId);
	if (!standing || !shown) throw new Error('not there');
	const decision = await app.rights.decideFor(standing.viewer, itemId);
	const address = await streamAddress(app, await lookOf(app, standing, null, '127.0.0.1'), decision, shown);
	return {
		memberId: added.memberId,
		grantId: standing.viewer.grants[0]?.id ?? '',
		cookie: `${sessionCookie(app)}=${session.token}`,
		folder: (address ?? '').replace('master.m3u8', '')
	};
}

function ask(
	path: string,
	headers: Record<string, string>,
	of = server
): Promise<{ status: number; at: number }> {
	const { port } = of.address() as AddressInfo;
	return new Promise((resolve, reject) => {
		get({ port, host: '127.0.0.1', path, headers, agent: false }, (response) => {
			response.resume();
			response.on('end', () => resolve({ status: response.statusCode ?? 0, at: Date.now() }));
		}).on('error', reject);
	});
}

describe('a client that does not help', () => {
	it('gets the burst of keys at once, and then no faster than the highest speed plays', async () => {
		const { cookie, folder, grantId } = await viewer('greedy');
		const began = Date.now();
		const had: number[] = [];
		for (let group = 0; group < BURST_GROUPS + 2; group++) {
			const answer = await ask(`${folder}v0/${group}.key`, { cookie });
			expect(answer.status).toBe(200);
			had.push(answer.at - began);
		}
		// The usual way of watching plays at twice the speed at most.
		expect(had[BURST_GROUPS]).toBeGreaterThanOrEqual(GROUP_MS / 2 - (had[0] ?? 0) - 100);
		await endGrant(world.app, null, grantId, 'refund');
		const refused = await ask(`${folder}v0/${BURST_GROUPS + 2}.key`, { cookie });
		expect(refused.status).toBe(403);
		const seconds = ((BURST_GROUPS + 2) * GROUP_MS) / 1000;
		console.log(`keys for ${seconds} s of film in ${had.at(-1)} ms; after the refund: ${refused.status}`);
	});

	it('gains nothing by a second session, nor by asking for many at once', async () => {
		const { cookie, folder, memberId } = await viewer('many');
		const session = await transact(world.app, null, (work) => beginSession(work, memberId, 'password'));
		const other = `${sessionCookie(world.app)}=${session.token}`;
		const answers = await Promise.all(
			Array.from({ length: 40 }, (_, n) =>
				ask(`${folder}v0/${n}.key`, { cookie: n % 2 === 0 ? cookie : other })
			)
		);
		const given = answers.filter(({ status }) => status === 200).length;
		expect(given).toBeGreaterThanOrEqual(BURST_GROUPS);
		expect(given).toBeLessThanOrEqual(BURST_GROUPS + 3);
		expect(answers.filter(({ status }) => status === 429)).toHaveLength(40 - given);
	});

	it('gains nothing by asking two nodes at the same time', async () => {
		const { cookie, folder } = await viewer('both');
		await node.app.rights.refresh();
		const answers = await Promise.all(
			Array.from({ length: 40 }, (_, n) =>
				ask(`${folder}v0/${n}.key`, { cookie }, n % 2 === 0 ? server : second)
			)
		);
		const given = answers.filter(({ status }) => status === 200).length;
		expect(given).toBeGreaterThanOrEqual(BURST_GROUPS);
		expect(given).toBeLessThanOrEqual(BURST_GROUPS + 3);
		expect(answers.filter(({ status }) => status === 429)).toHaveLength(40 - given);
	});

	it('finds its pace forgotten once it is full again', async () => {
		await forgetPaces(world.app);
		expect(await world.app.db.select().from(keyPaces)).not.toEqual([]);
		await world.app.db.update(keyPaces).set({ at: world.app.clock.wall() - 2 * BURST_GROUPS * GROUP_MS - 1 });
		await forgetPaces(world.app);
		expect(await world.app.db.select().from(keyPaces)).toEqual([]);
	});

	it('asks again for what was given without cost', async () => {
		const { cookie, folder } = await viewer('again');
		for (let n = 0; n < 30; n++) expect((await ask(`${folder}v0/1.key`, { cookie })).status).toBe(200);
	});
});

describe('a stream', () => {
	it('is for the devices of its member, and for pages that may show it', async () => {
		const { cookie, folder } = await viewer('own');
		const { cookie: stolen } = await viewer('other');
		expect((await ask(`${folder}master.m3u8`, { cookie })).status).toBe(200);
		expect((await ask(`${folder}master.m3u8`, {})).status).toBe(401);
		expect((await ask(`${folder}master.m3u8`, { cookie: stolen })).status).toBe(401);
		expect((await ask(`${folder}v0/0.key`, { cookie, referer: 'https://other.example/' })).status).toBe(403);
		expect(
			(await ask(`${folder}v0/0.key`, { cookie, referer: `${world.app.settings.origin}/x` })).status
		).toBe(200);
		for (const path of ['v0/100.key', 'v0/999.m4s', 'v1/index.m3u8', 'v0/index.m3u8x'])
			expect((await ask(folder + path, { cookie })).status, path).toBe(404);
	});
});

const proofIn = (folder: string) => folder.split('/')[3] ?? '';

describe('a player that listens', () => {
	/** What is said until the end, to whoever opened the stream. */
	async function heard(
		name: string,
		then: (who: Awaited<ReturnType<typeof viewer>>) => Promise<void>,
		others: readonly string[] = []
	) {
		const who = await viewer(name);
		const query = others.map((proof) => `and=${proof}`).join('&');
		const { port } = server.address() as AddressInfo;
		const headers = { cookie: who.cookie };
		return new Promise<string>((resolve, reject) => {
			get(
				{ port, host: '127.0.0.1', path: `${who.folder}watch?${query}`, headers, agent: false },
				(response) => {
					let text = '';
					response.on('data', (chunk: Buffer) => {
						if (text === '') then(who).catch(reject);
						text += chunk.toString();
					});
					response.on('end', () => resolve(text.replaceAll(proofIn(who.folder), 'OWN')));
				}
			).on('error', reject);
		});
	}

	it('is told when access ends', async () => {
		const said = await heard('listener', ({ grantId }) =>
			endGrant(world.app, null, grantId, 'refund').then(() => {})
		);
		expect(said).toBe(': open\n\nevent: revoked\ndata: OWN\n\n');
	});

	it('is told of each stream that it watches, and of those that are none at once', async () => {
		const other = proofIn((await viewer('neighbour')).folder);
		// The neighbour's is for the neighbour's session: to this one it is as good as ended.
		const said = await heard(
			'two-tabs',
			({ grantId }) => endGrant(world.app, null, grantId, 'refund').then(() => {}),
			[other, 'no-proof']
		);
		expect(said.split('\n\n').sort()).toEqual(
			[
				'',
				': open',
				`event: revoked\ndata: ${other}`,
				'event: replaced\ndata: no-proof',
				'event: revoked\ndata: OWN'
			].sort()
		);
	});

	it('is told when something else is shown: what was prepared anew has other keys', async () => {
		const said = await heard('watcher', () =>
			transact(world.app, null, async (work) => {
				await work.tx.update(assets).set({ version: 2 }).where(eq(assets.version, 1));
				work.contentChanged();
			})
		);
		expect(said).toBe(': open\n\nevent: replaced\ndata: OWN\n\n');
	});
});

describe('a stream whose openings are counted', () => {
	const LIMIT = { ...NO_LIMITS, uses: { count: 1, per: 'grant' as const } };
	const used = async (memberId: string) =>
		(await world.app.db.select().from(uses).where(eq(uses.memberId, memberId))).length;

	beforeAll(async () => {
		const crossing = { ...holding(planId), limits: LIMIT };
		const { fences } = (await world.app.rights.policy()).source;
		const fence = fences[0]!;
		await agreeing((agreedTo) =>
			saveFence(world.app, null, {
				fenceId: fence.id,
				revision: 1,
				agreedTo,
				wish: { ...fence, crossings: [crossing] }
			})
		);
	});

	it.each(['v0/0.key', 'v0/index.m3u8', 'master.m3u8', 'v0/init.mp4'])(
		'takes a use by whichever address is asked first: %s',
		async (first) => {
			const { cookie, folder, memberId } = await viewer(`first-${first.replace(/\W/g, '')}`);
			await ask(folder + first, { cookie, 'sec-purpose': 'prefetch' });
			await head(folder + first, cookie);
			expect(await used(memberId)).toBe(0);
			await ask(folder + first, { cookie });
			expect(await used(memberId)).toBe(1);
			// The same use goes on.
			expect((await ask(`${folder}v0/1.key`, { cookie })).status).toBe(200);
			expect(await used(memberId)).toBe(1);
		}
	);

	it('sends not one key where another device took the last use', async () => {
		const { cookie, folder, memberId, grantId } = await viewer('late');
		await transact(world.app, null, async (work) => {
			const at = work.now;
			await work.tx.insert(uses).values({ itemId, memberId, grantId, at, goesOnUntil: at + 1 });
			work.standingChanged(memberId);
		});
		for (const name of ['v0/0.key', 'v0/index.m3u8', 'master.m3u8', 'v0/init.mp4'])
			expect((await ask(folder + name, { cookie })).status).toBe(403);
	});
});

function head(path: string, cookie: string): Promise<void> {
	const { port } = server.address() as AddressInfo;
	return new Promise((resolve, reject) => {
		get({ port, host: '127.0.0.1', path, method: 'HEAD', headers: { cookie }, agent: false }, (response) => {
			response.resume();
			response.on('end', resolve);
		}).on('error', reject);
	});
}
