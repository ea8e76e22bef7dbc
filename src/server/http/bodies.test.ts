import { createServer, request, type Server } from 'node:http';
import { connect, type AddressInfo } from 'node:net';
import { afterEach, expect, it } from 'vitest';
import { Bodies } from './bodies';

let server: Server;

async function serve(bodies: Bodies, mostBytes: number | null): Promise<number> {
	server = createServer((req, res) => {
		const refusal = bodies.refuse(req, res, mostBytes);
		if (refusal) return res.writeHead(refusal.status).end(refusal.words);
		req.resume().on('end', () => res.end('taken'));
	});
	await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
	return (server.address() as AddressInfo).port;
}
afterEach(() => {
	server.closeAllConnections();
	server.close();
});

const post = (port: number, body: string, headers: Record<string, string> = {}) =>
	new Promise<number>((resolve, reject) => {
		const asked = request({ port, host: '127.0.0.1', method: 'POST', headers }, (response) => {
			response.resume();
			resolve(response.statusCode ?? 0);
		});
		asked.on('error', reject);
		asked.end(body);
	});

/** Sends a head and part of a body, and nothing more; what comes back before the connection ends. */
const begin = (port: number) =>
	new Promise<string>((resolve) => {
		let text = '';
		const socket = connect(port, '127.0.0.1', () =>
			socket.write('POST / HTTP/1.1\r\nhost: x\r\ncontent-length: 100\r\n\r\nab')
		);
		socket.on('data', (chunk) => (text += chunk));
		socket.on('close', () => resolve(text));
		socket.on('error', () => {});
	});

it('takes what fits and refuses what is longer, or does not say how long it is', async () => {
	const port = await serve(new Bodies(), 10);
	expect(await post(port, '1234567890', { 'content-length': '10' })).toBe(200);
	expect(await post(port, '12345678901', { 'content-length': '11' })).toBe(413);
	expect(await post(port, '1', { 'transfer-encoding': 'chunked' })).toBe(411);
});

it('ends a body that does not come to its end, and has room for others again', async () => {
	const port = await serve(new Bodies({ most: 2, withinMs: 100 }), null);
	const slow = [begin(port), begin(port)];
	await expect.poll(() => post(port, '1', { 'content-length': '1' })).toBe(503);
	for (const text of await Promise.all(slow)) expect(text).toMatch(/^HTTP\/1.1 408/);
	expect(await post(port, '1', { 'content-length': '1' })).toBe(200);
});
