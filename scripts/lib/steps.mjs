/** What a script says while it works, and how it ends when it cannot. */
import { spawn } from 'node:child_process';
import process from 'node:process';

/** An error whose message is for people: one sentence on what happened and what to do. */
export class Problem extends Error {}

/** Does one step of a script and says how long it took. */
export async function step(name, work) {
	const began = Date.now();
	process.stdout.write(`· ${name} … `);
	try {
		const result = await work();
		console.log(`${((Date.now() - began) / 1000).toFixed(1)} s`);
		return result;
	} catch (error) {
		console.log('failed');
		throw error;
	}
}

/** Runs the body of a script: a Problem becomes its sentence, anything else shows where it came from. */
export async function main(body) {
	try {
		await body();
	} catch (error) {
		console.error(error instanceof Problem ? error.message : error);
		process.exitCode = 1;
	}
}

/** Runs a command to its end; `{ code, output }`. */
export function run(command, args, { env = {}, show = false, cwd } = {}) {
	return new Promise((resolve, reject) => {
		const child = spawn(command, args, {
			cwd,
			env: { ...process.env, ...env },
			stdio: ['ignore', show ? 'inherit' : 'pipe', show ? 'inherit' : 'pipe']
		});
		let output = '';
		child.stdout?.on('data', (chunk) => (output += chunk));
		child.stderr?.on('data', (chunk) => (output += chunk));
		child.on('error', reject);
		child.on('close', (code) => resolve({ code: code ?? 1, output }));
	});
}
