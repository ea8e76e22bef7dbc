/**
 * A database that does not close its connections and does not answer either: it counts as gone. Nothing is sent on after a
 * second or two, nothing waits for ever, and all of it goes on when the answers come again.
 */
import { writeFileSync } from 'node:fs';
import { createServer, get, type Server } from 'node:http';
import {
	connect as connectTo,
	createServer as createRelay,
	type AddressInfo,
	type Server as Relay,
	type Socket
} from 'node:net';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { items } from '$server/db/schema/library';
import { compose, type Stile } from '$server/compose';
import { createFront } from '$server/http/front';
import { lookOf } from '$server/rights/look';
import { makeFileLink } from '$server/usecases/library/file-link';
import { receiveFile } from '$server/usecases/library/receive-file';
import { transact } from '$server/transact';
import { makeWorld, scratch, type World } from './world';

/** Passes bytes between Stile and its database, until it is told to be silent: connections stay open, and nothing comes. */
class SilentRelay {
	private readonly sockets = new Set<Socket>();
	private isSilent = false;
	private server: Relay | null = null;

	async start(port: number): Promise<number> {
		this.server = createRelay((near) => {
			const far = connectTo(port, '127.0.0.1');
			for (const [from, to] of [
				[near, far],
				[far, near]
			] as const) {
				this.sockets.add(from);
				from.on('data', (bytes) => void (this.isSilent || to.write(bytes)));
				from.on('close', () => {
					this.sockets.delete(from);
					to.destroy();
				});
				from.on('error', () => {});
			}
		});
		await new Promise<void>((resolve) => this.server?.listen(0, '127.0.0.1', resolve));
		return (this.server.address() as AddressInfo).port;
	}

	silence(isSilent: boolean): void {
		this.isSilent = isSilent;
		// What was swallowed is lost: those connections are of no use any more, as after a cable was cut.
		if (!isSilent) for (const socket of this.sockets) socket.destroy();
	}

	stop(): void {
		for (const socket of this.sockets) socket.destroy();
		this.server?.close();
	}
}

const relay = new SilentRelay();
let world: World;
let node: Stile;
let server: Server;
let fileId: string;

beforeAll(async () => {
	world = await makeWorld(1000);
	const url = new URL(world.app.settings.databaseUrl);
	url.port = String(await relay.start(Number(url.port)));
	node = await compose({ ...world.app.settings, databaseUrl: url.toString() });
	const path = scratch('big.bin');
	writeFileSync(path, Buffer.alloc(96 * 1024 ** 2, 7));
	const received = await receiveFile(world.app, null, { path, name: 'big.bin' });
	if (!received.ok) throw new Error(received.problem.code);
	fileId = received.itemId;
	await transact(world.app, null, async (work) => {
		await work.tx.update(items).set({ state: 'published', base: 'open' }).where(eq(items.id, fileId));
		work.policyChanged('test', { resources: [fileId] });
	});
	await node.app.rights.refresh();
	const front = createFront(node);
	server = createServer((req, res) => {
		req.headers.host = new URL(node.app.settings.origin).host;
		void Promise.resolve(front(req, res)).then((hasAnswered) => hasAnswered || res.writeHead(404).end());
	});
	await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
});
afterEach(async () => {
	relay.silence(false);
	await expect
		.poll(
			() =>
				node.app.rights.refresh().then(
					() => true,
					() => false
				),
			{ timeout: 10_000 }
		)
		.toBe(true);
});
afterAll(async () => {
	server.closeAllConnections();
	server.close();
	await node.stop();
	relay.stop();
	await world.end();
});

function ask(path: string): Promise<{ status: number; body: string }> {
	const { port } = server.address() as AddressInfo;
	return new Promise((resolve, reject) => {
		get({ port, host: '127.0.0.1', path, agent: false }, (response) => {
			let body = '';
			response.on('data', (chunk) => (body += chunk));
			response.on('end', () => resolve({ status: response.statusCode ?? 0, body }));
		}).on('error', reject);
	});
}

describe('a silent database', () => {
	it('ends a file that is being sent: nothing of it is sent on once nobody can decide', async () => {
		const link = await makeFileLink(node.app, await lookOf(node.app, null, null, '127.0.0.1'), fileId);
		if (!link.ok) throw new Error(link.code);
		const { port } = server.address() as AddressInfo;
		let looksAfterTheSilence = 0;
		const decide = node.app.rights.decideFor.bind(node.app.rights);
		node.app.rights.decideFor = (...asked) => {
			looksAfterTheSilence++;
			return decide(...asked);
		};
		const ended = new Promise<number>((resolve) => {
			get({ port, host: '127.0.0.1', path: link.address, agent: false }, (response) => {
				let got = 0;
				response.on('data', (chunk: Buffer) => {
					got += chunk.length;
					response.pause();
					setTimeout(() => response.resume(), 100);
				});
				response.on('error', () => {});
				response.on('close', () => resolve(got));
			}).on('error', () => {});
		});
		await new Promise((resolve) => setTimeout(resolve, 300));
		looksAfterTheSilence = 0;
		const began = performance.now();
		relay.silence(true);
		const got = await ended;
		console.log(
			`cut ${Math.round(performance.now() - began)} ms after the database fell silent, at ${got} bytes`
		);
		expect(got).toBeLessThan(96 * 1024 ** 2);
		// It is looked at twice a second. While the last answer is good for a second it may go on; the first look after
		// that finds that nobody answers, and is the last.
		expect(looksAfterTheSilence).toBeLessThanOrEqual(4);
		node.app.rights.decideFor = decide;
	});

	it('is said by /readyz and by every decision, and nothing hangs', async () => {
		expect((await ask('/readyz')).status).toBe(200);
		relay.silence(true);
		await new Promise((resolve) => setTimeout(resolve, 1100));
		const ready = await ask('/readyz');
		expect(ready.status).toBe(503);
		expect(JSON.parse(ready.body)).toMatchObject({ ready: false, database: 'failing', storage: 'ok' });
		await expect(node.app.rights.decide(null, fileId)).rejects.toThrow();
		expect((await ask(`/media/poster/${fileId}`)).status).toBe(503);
	});

	it('is found again by itself', async () => {
		relay.silence(true);
		await new Promise((resolve) => setTimeout(resolve, 1100));
		await expect(node.app.rights.decide(null, fileId)).rejects.toThrow();
		relay.silence(false);
		await expect
			.poll(
				() =>
					node.app.rights.decide(null, fileId).then(
						({ verdict }) => verdict,
						() => 'unknown'
					),
				{ timeout: 8000 }
			)
			.toBe('open');
		await expect.poll(async () => (await ask('/readyz')).status, { timeout: 8000 }).toBe(200);
	});
});
