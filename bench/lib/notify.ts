/**
 * A process of its own that sends signed notifications at a rate, whether or not the last was answered.
 *
 *   node --import tsx bench/lib/notify.ts URL SECRET RATE SECONDS
 *
 * Prints how many were accepted, and the milliseconds from the first to the last answer.
 */
import { Agent, request } from 'node:http';
import { setTimeout as sleep } from 'node:timers/promises';
import { signMessage } from '../../src/server/adapters/message-signature';

const [url = '', secret = '', rate = '1000', seconds = '5'] = process.argv.slice(2);
const RATE = Number(rate);
const COUNT = RATE * Number(seconds);
const agent = new Agent({ keepAlive: true, maxSockets: 256 });
const path = new URL(url).pathname;

function send(n: number): Promise<boolean> {
	const body = new TextEncoder().encode(JSON.stringify({ eventId: `bench-${n}`, paymentRef: `none-${n}` }));
	const signature = signMessage({ method: 'POST', path, body }, secret, Math.floor(Date.now() / 1000));
	return new Promise((resolve) => {
		const asked = request(
			url,
			{ method: 'POST', agent, headers: { 'content-type': 'application/json', ...signature } },
			(response) => {
				response.resume();
				response.on('end', () => resolve(response.statusCode === 200));
			}
		);
		asked.on('error', () => resolve(false));
		asked.end(body);
	});
}

const began = performance.now();
const sent: Promise<boolean>[] = [];
for (let n = 0; n < COUNT; n++) {
	const due = began + (n * 1000) / RATE;
	if (due > performance.now()) await sleep(due - performance.now());
	sent.push(send(n));
}
const accepted = (await Promise.all(sent)).filter(Boolean).length;
console.log(JSON.stringify({ accepted, ms: performance.now() - began }));
agent.destroy();
