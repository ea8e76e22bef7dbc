/** A bounded load on one address of this machine: at a fixed rate, and as fast as a few connections go. */
import { Agent, get } from 'node:http';
import { setTimeout as sleep } from 'node:timers/promises';
import { percentile, rounded } from './report';

const SECONDS = 4;
const RATE = 100;
const CONNECTIONS = 8;

export interface Loaded {
	/** As fast as 8 connections go. */
	requestsPerSecond: number;
	/** At 100 requests a second. */
	p95Ms: number;
}

export async function load(url: string, cookie: string | null): Promise<Loaded> {
	const agent = new Agent({ keepAlive: true, maxSockets: 64 });
	const headers: Record<string, string> = cookie === null ? {} : { cookie };
	const ask = () => timed(url, agent, headers);
	for (let n = 0; n < 20; n++) await ask();

	const times: Promise<number>[] = [];
	const began = performance.now();
	for (let n = 0; n < RATE * SECONDS; n++) {
		const due = began + (n * 1000) / RATE;
		if (due > performance.now()) await sleep(due - performance.now());
		times.push(ask());
	}
	const p95Ms = rounded(percentile(await Promise.all(times), 0.95));

	let count = 0;
	const end = performance.now() + SECONDS * 1000;
	const worker = async () => {
		for (; performance.now() < end; count++) await ask();
	};
	await Promise.all(Array.from({ length: CONNECTIONS }, worker));
	agent.destroy();
	return { requestsPerSecond: rounded(count / SECONDS), p95Ms };
}

/** Milliseconds to the last byte. Anything but 200 ends the measurement: it would measure refusals. */
function timed(url: string, agent: Agent, headers: Record<string, string>): Promise<number> {
	const began = performance.now();
	return new Promise((resolve, reject) => {
		get(url, { agent, headers }, (response) => {
			if (response.statusCode !== 200) reject(new Error(`${url} answered ${response.statusCode}`));
			response.on('data', () => {});
			response.on('end', () => resolve(performance.now() - began));
			response.on('error', reject);
		}).on('error', reject);
	});
}
