/** Builds Stile when its sources have changed since the last build. */
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Problem, run } from './steps.mjs';

const SOURCES = ['src', 'static', 'package-lock.json', 'svelte.config.js', 'vite.config.ts', 'tsconfig.json'];
const STAMP = 'build/.sources';

export async function buildIfChanged() {
	const wanted = digestOf(SOURCES);
	if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === wanted) return;
	const { code, output } = await run('npx', ['vite', 'build'], { env: { NODE_ENV: 'production' } });
	if (code !== 0) throw new Problem(`The build failed:\n${output.trim().split('\n').slice(-30).join('\n')}`);
	writeFileSync(STAMP, wanted);
}

function digestOf(paths) {
	const hash = createHash('sha256');
	const walk = (path) => {
		if (!existsSync(path)) return;
		if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) walk(join(path, name));
		else if (!path.endsWith('.test.ts')) hash.update(path).update('\0').update(readFileSync(path));
	};
	paths.forEach(walk);
	return hash.digest('hex');
}
