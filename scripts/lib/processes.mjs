/** Starts processes and ends exactly those, by their handles. */
import { spawn } from 'node:child_process';
import { closeSync, openSync, readFileSync } from 'node:fs';
import { createConnection } from 'node:net';
import process from 'node:process';
import { setTimeout as sleep } from 'node:timers/promises';
import { Problem } from './steps.mjs';

const KILL_AFTER_MS = 30_000;

const going = new Set();

/** Starts a process whose output goes to a file. It has a group of its own, so that Ctrl-C reaches only the script. */
export function start(name, command, args, { env = {}, log }) {
	const out = openSync(log, 'w');
	const child = spawn(command, args, {
		env: { ...process.env, ...env },
		stdio: ['ignore', out, out],
		detached: true
	});
	closeSync(out);
	const ended = new Promise((resolve) => child.on('close', resolve).on('error', resolve));
	const started = {
		name,
		log,
		child,
		ended,
		hasEnded: () => child.exitCode !== null || child.signalCode !== null || child.pid === undefined,
		async stop() {
			if (child.exitCode !== null || child.pid === undefined) return;
			child.kill('SIGTERM');
			const timer = setTimeout(() => child.kill('SIGKILL'), KILL_AFTER_MS);
			await ended;
			clearTimeout(timer);
		}
	};
	going.add(started);
	void ended.then(() => going.delete(started));
	return started;
}

/** Whoever is asked to stop in the middle ends what it has started: the next one needs its ports. */
export function stopAllOnSignal() {
	const stop = async () => {
		await Promise.all([...going].map((one) => one.stop()));
		process.exit(1);
	};
	process.once('SIGINT', stop);
	process.once('SIGTERM', stop);
}

/** Waits until `check` says yes; ends with the process's last words if it dies first. */
export async function until(check, started, withinMs, hint) {
	const deadline = Date.now() + withinMs;
	while (Date.now() < deadline) {
		if (await check()) return;
		if (started.hasEnded()) throw new Problem(`${started.name} did not start. ${lastWords(started.log)}`);
		await sleep(50);
	}
	throw new Problem(
		`${started.name} did not come up within ${withinMs / 1000} seconds. ${hint ?? `See ${started.log}.`}`
	);
}

function lastWords(log) {
	const lines = readFileSync(log, 'utf8').trim().split('\n');
	return (lines.findLast((line) => /error|taken|refuse|did not/i.test(line)) ?? lines.at(-1) ?? '').slice(
		0,
		400
	);
}

export function isListening(port) {
	return new Promise((resolve) => {
		const socket = createConnection({ port, host: '127.0.0.1' });
		socket.on('connect', () => resolve(socket.destroy() && true));
		socket.on('error', () => resolve(false));
	});
}

/** Refuses taken ports by name, before anything is started. */
export async function needFreePorts(ports) {
	for (const [variable, port] of Object.entries(ports)) {
		if (await isListening(port)) {
			throw new Problem(
				`Port ${port} is taken. Stop what uses it (another Stile?), or set ${variable} to another port.`
			);
		}
	}
}
