import { writeFileSync } from 'node:fs';
import { createServer, get, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { setTimeout as sleep } from 'node:timers/promises';
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { NO_LIMITS, type UseLimit } from '$core/access/model';
import { grants, linkOpenings, uses } from '$server/db/schema/access';
import { items } from '$server/db/schema/library';
import { settings } from '$server/db/schema/running';
import { createFront } from '$server/http/front';
import { lookOf } from '$server/rights/look';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { addMember } from '$server/usecases/accounts/run-members';
import { saveFence } from '$server/usecases/fences/save-fence';
import { setState } from '$server/usecases/library/edit-item';
import { makeFileLink } from '$server/usecases/library/file-link';
import { receiveFile } from '$server/usecases/library/receive-file';
import { fileUses } from '$server/rights/file-uses';
import { giveMoreUses } from '$server/usecases/library/uses';
import { createPlan } from '$server/usecases/plans/save-plan';
import { shownItem } from '$server/rights/shown';
import { transact } from '$server/transact';
import { endGrant, FENCE, makeWorld, PLAN, scratch, type World } from './world';

const SIZE = 10_000;
const CONTENT = Buffer.from(Array.from({ length: SIZE }, (_, n) => n % 251));

let world: World;
let server: Server;
let planId: string;
let itemId: string;
let wren: string;
let grantId: string;
let members = 0;

beforeAll(async () => {
	world = await makeWorld();
	const front = createFront(world.stile);
	server = createServer((req, res) => {
		// The world's origin is not where this server listens.
		req.headers.host = new URL(world.app.settings.origin).host;
		void Promise.resolve(front(req, res)).then((hasAnswered) => hasAnswered || res.writeHead(404).end());
	});
	await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
	planId = await createPlan(world.app, null, PLAN);
});
afterAll(async () => {
	server.closeAllConnections();
	server.close();
	await world.end();
});

beforeEach(async () => {
	itemId = await file('dial “template” 振り子', CONTENT);
	await close(itemId, null);
	const email = `wren-${++members}@mail.example`;
	const added = await addMember(world.app, null, { email, name: 'Wren', planId, until: null });
	if (!added.ok) throw new Error(added.code);
	wren = added.memberId;
	const [grant] = await world.app.db.select().from(grants).where(eq(grants.memberId, wren));
	grantId = grant?.id ?? '';
});

async function file(name: string, content: Uint8Array): Promise<string> {
	const path = scratch('upload');
	writeFileSync(path, content);
	const received = await receiveFile(world.app, null, { path, name });
	if (!received.ok) throw new Error(received.problem.code);
	return received.itemId;
}

async function close(id: string, uses: UseLimit | null): Promise<void> {
	const limits = { ...NO_LIMITS, uses: uses ?? ('none' as const) };
	await agreeing((agreedTo) =>
		saveFence(world.app, null, {
			fenceId: null,
			revision: 1,
			agreedTo,
			wish: {
				...FENCE,
				selector: { kind: 'items', itemIds: [id] },
				crossings: [
					{ audience: { kind: 'holders', planIds: [planId] }, window: null, limits, isThroughout: false }
				]
			}
		})
	);
	await publish(id);
}

async function publish(id: string): Promise<void> {
	await agreeing((agreedTo) =>
		setState(world.app, null, id, { state: 'published', publishAt: null }, agreedTo)
	);
}

async function link(id = itemId, memberId: string | null = wren, client = '127.0.0.1'): Promise<string> {
	const made = await press(id, memberId, client);
	if (!made.ok) throw new Error(made.code);
	return made.address;
}

async function press(id: string, memberId: string | null, client = '127.0.0.1') {
	const standing = memberId ? await world.app.rights.standing(memberId) : null;
	return makeFileLink(world.app, await lookOf(world.app, standing, null, client), id);
}

interface Answer {
	status: number;
	headers: IncomingMessage['headers'];
	body: Buffer;
	/** Whether the whole of what was promised came. */
	isWhole: boolean;
}

function ask(path: string, headers: Record<string, string> = {}, method = 'GET'): Promise<Answer> {
	const { port } = server.address() as AddressInfo;
	return new Promise((resolve, reject) => {
		const request = get({ port, host: '127.0.0.1', path, headers, method, agent: false }, (response) => {
			const chunks: Buffer[] = [];
			response.on('data', (chunk: Buffer) => chunks.push(chunk));
			response.on('error', () => {});
			response.on('close', () =>
				resolve({
					status: response.statusCode ?? 0,
					headers: response.headers,
					body: Buffer.concat(chunks),
					isWhole: response.complete
				})
			);
		});
		request.on('error', reject);
	});
}

describe('a file', () => {
	it('is sent whole, as what it is, to be saved under its own name', async () => {
		const answer = await ask(await link());
		expect(answer.status).toBe(200);
		expect(answer.body.equals(CONTENT)).toBe(true);
		expect(answer.headers).toMatchObject({
			'content-length': String(SIZE),
			'accept-ranges': 'bytes',
			'x-content-type-options': 'nosniff',
			'cache-control': 'private, no-store'
		});
		// RFC 6266 appendix D and RFC 8187 §3.2: a plain name for old readers, the real one beside it.
		expect(answer.headers['content-disposition']).toMatch(
			/^attachment; filename="[^"]+"; filename\*=UTF-8''dial/
		);
		expect(answer.headers['content-disposition']).toContain(encodeURIComponent('振り子'));
	});

	// RFC 9110 §14.1.2: its own examples, of 10,000 bytes.
	it.each([
		['bytes=0-499', 'bytes 0-499/10000', 0, 500],
		['bytes=500-999', 'bytes 500-999/10000', 500, 1000],
		['bytes=-500', 'bytes 9500-9999/10000', 9500, 10_000],
		['bytes=9500-', 'bytes 9500-9999/10000', 9500, 10_000],
		['bytes=500-700,601-999', 'bytes 500-999/10000', 500, 1000]
	])('answers %s', async (range, contentRange, from, to) => {
		const address = await link();
		// Twice: the second is answered without being decided anew.
		for (let n = 0; n < 2; n++) {
			const answer = await ask(address, { range });
			expect(answer.status).toBe(206);
			expect(answer.headers['content-range']).toBe(contentRange);
			expect(answer.body.equals(CONTENT.subarray(from, to))).toBe(true);
		}
	});

	it('answers several parts at once, each with where it stands', async () => {
		const answer = await ask(await link(), { range: 'bytes=0-0,-1' });
		const boundary = /^multipart\/byteranges; boundary=(\w+)$/.exec(
			answer.headers['content-type'] ?? ''
		)?.[1];
		const type = 'Content-Type: text/plain';
		const parts = [
			`--${boundary}\r\n${type}\r\nContent-Range: bytes 0-0/10000\r\n\r\n`,
			CONTENT.subarray(0, 1),
			`\r\n--${boundary}\r\n${type}\r\nContent-Range: bytes 9999-9999/10000\r\n\r\n`,
			CONTENT.subarray(-1),
			`\r\n--${boundary}--\r\n`
		];
		const expected = Buffer.concat(parts.map((part) => Buffer.from(part as string)));
		expect(answer.body.toString('latin1').replaceAll('application/octet-stream', 'text/plain')).toBe(
			expected.toString('latin1')
		);
		expect(answer.headers['content-length']).toBe(String(answer.body.length));
	});

	it.each([
		['bytes=10000-', 416],
		['bytes=-0', 416],
		['bytes=9-2', 200],
		['bytes=a-b', 200],
		['items=0-3', 200]
	])('answers %s with %d', async (range, status) => {
		const answer = await ask(await link(), { range });
		expect(answer.status).toBe(status);
		if (status === 416) expect(answer.headers['content-range']).toBe('bytes */10000');
	});

	it('heeds conditions, and a range only of what the reader has a part of', async () => {
		const address = await link();
		const { headers } = await ask(address, {}, 'HEAD');
		const etag = headers.etag ?? '';
		expect((await ask(address, { 'if-none-match': etag })).status).toBe(304);
		expect((await ask(address, { 'if-match': '"other"' })).status).toBe(412);
		expect((await ask(address, { range: 'bytes=0-9', 'if-range': etag })).status).toBe(206);
		expect((await ask(address, { range: 'bytes=0-9', 'if-range': '"other"' })).status).toBe(200);
		expect(
			(await ask(address, { range: 'bytes=0-9', 'if-range': headers['last-modified'] ?? '' })).status
		).toBe(206);
	});

	it('tells its length without its bytes', async () => {
		const answer = await ask(await link(), {}, 'HEAD');
		expect(answer).toMatchObject({ status: 200, body: Buffer.alloc(0) });
		expect(answer.headers['content-length']).toBe(String(SIZE));
	});

	it.each([
		['page.html', '<script>alert(1)</script>', 'application/octet-stream'],
		['drawing.svg', '<svg xmlns="http://www.w3.org/2000/svg"><script/></svg>', 'application/octet-stream']
	])('that a browser might run is only ever saved (%s)', async (name, content, type) => {
		const id = await file(name, Buffer.from(content));
		const change = { opensInBrowser: true, base: 'open' as const };
		await transact(world.app, null, async (work) => {
			await work.tx.update(items).set(change).where(eq(items.id, id));
			work.policyChanged('test', { resources: [id] });
		});
		await publish(id);
		const { headers } = await ask(await link(id, null));
		expect(headers['content-type']).toBe(type);
		expect(headers['content-disposition']).toMatch(/^attachment/);
		expect(headers['content-security-policy']).toContain('sandbox');
	});
});

describe('a link', () => {
	it('opens nothing when a letter of it is changed, or for another purpose', async () => {
		const address = await link();
		const [, , , signed = ''] = address.split('/');
		const changed = signed.slice(0, 5) + (signed[5] === 'A' ? 'B' : 'A') + signed.slice(6);
		expect((await ask(address.replace(signed, changed))).status).toBe(404);
		expect((await ask(`/media/stream/${signed}/master.m3u8`)).status).toBe(404);
	});

	it('ends with the grant, within a second, while it is being read', async () => {
		const big = await file('big.bin', Buffer.alloc(64 * 1024 ** 2, 7));
		await close(big, null);
		const address = await link(big);
		const { port } = server.address() as AddressInfo;
		const ended = new Promise<number>((resolve) => {
			get({ port, host: '127.0.0.1', path: address, agent: false }, (response) => {
				let got = 0;
				response.on('data', (chunk: Buffer) => {
					got += chunk.length;
					// A slow reader: most of the file is still to come.
					response.pause();
					setTimeout(() => response.resume(), 50);
				});
				response.on('error', () => {});
				response.on('close', () => resolve(got));
			}).on('error', () => {});
		});
		await sleep(300);
		const began = Date.now();
		await endGrant(world.app, null, grantId, 'refund');
		const got = await ended;
		console.log(`the answer was cut ${Date.now() - began} ms after the grant had ended, at ${got} bytes`);
		expect(got).toBeLessThan(64 * 1024 ** 2);
		expect((await ask(address)).status).toBe(403);
	});

	it('tied to a network opens nothing from another', async () => {
		const site = await world.app.site();
		const value = { ...site, deterrents: { ...site.deterrents, tiesLinks: true } };
		const tie = (isTied: boolean) =>
			transact(world.app, null, async (work) => {
				await work.tx
					.update(settings)
					.set({ value: { ...value, deterrents: { ...value.deterrents, tiesLinks: isTied } } });
				work.contentChanged();
			});
		await tie(true);
		const elsewhere = await link(itemId, wren, '192.0.2.7');
		const here = await link(itemId, wren, '127.0.0.1');
		await tie(false);
		expect((await ask(elsewhere)).status).toBe(403);
		expect((await ask(here)).status).toBe(200);
	});

	it('is written down with the networks that it was opened from', async () => {
		const address = await link();
		await ask(address);
		await ask(address, { range: 'bytes=0-99' });
		await sleep(2300);
		const rows = await world.app.db.select().from(linkOpenings).where(eq(linkOpenings.memberId, wren));
		expect(rows).toMatchObject([{ network: '127.0.0.0/24', requests: 2, itemId }]);
	});
});

describe('uses of a file', () => {
	const used = async () => (await fileUses(world.app, wren, itemId))?.used;

	beforeEach(async () => {
		itemId = await file('limited.txt', CONTENT);
		await close(itemId, { count: 2, per: 'grant' });
	});

	it('are taken by the first bytes, not by the press, nor by a probe', async () => {
		const address = await link();
		expect(await fileUses(world.app, wren, itemId)).toEqual({ used: 0, limit: 2 });
		await ask(address, {}, 'HEAD');
		await ask(address, { range: 'bytes=0-1' });
		expect(await used()).toBe(0);
		await ask(address);
		expect(await used()).toBe(1);
	});

	it('are one for all requests by one link, however many come at once', async () => {
		const address = await link();
		const ranges = Array.from({ length: 10 }, (_, n) => `bytes=${n * 1000}-${n * 1000 + 999}`);
		const answers = await Promise.all(ranges.map((range) => ask(address, { range })));
		expect(answers.map(({ status }) => status)).toEqual(ranges.map(() => 206));
		expect(Buffer.concat(answers.map(({ body }) => body)).equals(CONTENT)).toBe(true);
		expect(await world.app.db.select().from(uses).where(eq(uses.itemId, itemId))).toHaveLength(1);
	});

	// Common practice, no source: with a limit of 3 the fourth is refused; here 2, and the third.
	it('end at the limit, though the last goes on; the publisher can give more', async () => {
		const [first, second] = [await link(), await link()];
		const third = await link();
		await ask(first);
		await ask(second);
		expect(await press(itemId, wren)).toEqual({ ok: false, code: 'used-up' });
		expect((await ask(third)).status).toBe(403);
		expect((await ask(second, { range: 'bytes=5000-' })).status).toBe(206);
		expect(await giveMoreUses(world.app, null, { memberId: wren, itemId, count: 1 })).toEqual({ ok: true });
		expect(await fileUses(world.app, wren, itemId)).toEqual({ used: 2, limit: 3 });
		expect((await ask(third)).status).toBe(200);
		expect(await giveMoreUses(world.app, null, { memberId: wren, itemId, count: 0 })).toEqual({
			ok: false,
			code: 'bad-count'
		});
	});

	it('of which two come at once, the last is taken once', async () => {
		await ask(await link());
		const links = [await link(), await link()];
		const statuses = (await Promise.all(links.map((address) => ask(address)))).map(({ status }) => status);
		expect(statuses.sort()).toEqual([200, 403]);
	});

	it('count although they were taken by a clock that is ahead', async () => {
		const [first, second, third] = [await link(), await link(), await link()];
		await ask(first);
		await ask(second);
		const ahead = world.app.clock.business() + 2000;
		await world.app.db
			.update(uses)
			.set({ at: ahead, goesOnUntil: ahead + 60_000 })
			.where(eq(uses.itemId, itemId));
		expect((await ask(third)).status).toBe(403);
	});

	it('are given back where almost nothing was sent', async () => {
		const address = await link();
		await ask(address, { range: 'bytes=0-99' });
		expect(await used()).toBe(1);
		await expect.poll(used, { timeout: 8000, interval: 200 }).toBe(0);
		// Taken again when it is read after all.
		await ask(address);
		expect(await used()).toBe(1);
		await sleep(3500);
		expect(await used()).toBe(1);
	});

	it('add up: pieces of under 5 % do not make a whole, by one link or by many', async () => {
		const settled = () => expect.poll(rowsUnderWay, { timeout: 8000, interval: 200 }).toBe(0);
		const [first, second] = [await link(), await link()];
		await ask(first, { range: 'bytes=0-399' });
		await settled();
		expect(await used()).toBe(0);
		// 4 % by the first link, 4 % by the second: together they count.
		await ask(second, { range: 'bytes=400-799' });
		await sleep(3500);
		expect(await used()).toBe(1);
		await ask(first, { range: 'bytes=800-1199' });
		await sleep(3500);
		expect(await used()).toBe(2);
		expect((await ask(await pressed(), { range: 'bytes=1200-1599' })).status).toBe(403);
	});

	it('that were given back serve nothing more, also behind a probe and from what was decided a moment ago', async () => {
		const address = await link();
		await ask(address, { range: 'bytes=0-99' });
		await expect.poll(used, { timeout: 8000, interval: 100 }).toBe(0);
		await ask(await link());
		await ask(await link());
		expect((await ask(address, { range: 'bytes=0-1' })).status).toBe(206);
		expect((await ask(address, { range: 'bytes=0-499' })).status).toBe(403);
	});

	it('are not taken by what only looks ahead, and nothing is sent to it', async () => {
		const answer = await ask(await link(), { 'sec-purpose': 'prefetch;prerender' });
		expect(answer.status).toBe(403);
		expect(await used()).toBe(0);
	});
});

/** Uses of files that are taken and not given back. */
async function rowsUnderWay(): Promise<number> {
	const rows = await world.app.db.select().from(uses).where(eq(uses.itemId, itemId));
	return rows.filter(({ givenBackAt }) => givenBackAt === null).length;
}

/** A link as one has that was made before the limit was reached. */
async function pressed(): Promise<string> {
	const shown = await shownItem(world.app, itemId);
	const standing = await world.app.rights.standing(wren);
	const signed = world.app.keys.sign({
		itemId,
		assetId: shown?.asset?.id ?? '',
		subject: { kind: 'member', id: wren },
		epoch: standing?.epoch ?? 0,
		purpose: 'file',
		end: world.app.clock.wall() + 60_000,
		useId: uuidv7(),
		network: null
	});
	return `/media/file/${signed}/limited.txt`;
}

describe('replaced content', () => {
	it('has the same address; old links open nothing any more', async () => {
		const before = await link();
		const path = scratch('upload');
		writeFileSync(path, 'new words');
		expect(await receiveFile(world.app, null, { path, name: 'new.txt', replaces: itemId })).toEqual({
			ok: true,
			itemId
		});
		expect((await ask(before)).status).toBe(404);
		expect((await ask(await link())).body.toString()).toBe('new words');
	});

	it('of another kind is refused', async () => {
		const path = scratch('upload');
		writeFileSync(path, 'words');
		const refused = await receiveFile(world.app, null, { path, name: 'wheel.mp4', replaces: itemId });
		expect(refused).toMatchObject({ ok: false, problem: { code: 'not-what-it-says' } });
	});
});
