/** `npm run bench -- NAME`: runs one measurement of bench/ and prints its figures as one JSON line. */
import { existsSync, readdirSync } from 'node:fs';
import process from 'node:process';
import { buildIfChanged } from './lib/build.mjs';
import { installDebianPackages, installNpmPackages, NEEDED_BY_TESTS } from './lib/packages.mjs';
import { main, Problem, run } from './lib/steps.mjs';

const FOLDER = 'bench';
/** Measurements of the built server, on a database of their own. */
const NEEDS_SERVER = new Set(['gate', 'bytes', 'playlists', 'busy', 'desk', 'billing']);

await main(async () => {
	const name = process.argv[2] ?? '';
	const names = readdirSync(FOLDER).flatMap((file) => /^([a-z]+)\.ts$/.exec(file)?.[1] ?? []);
	if (!names.includes(name))
		throw new Problem(`Say which: npm run bench -- NAME, with NAME one of ${names.join(', ')}.`);
	await installNpmPackages();
	if (!existsSync('.svelte-kit/tsconfig.json')) await run('npx', ['svelte-kit', 'sync']);
	if (NEEDS_SERVER.has(name)) {
		await installDebianPackages(NEEDED_BY_TESTS);
		await buildIfChanged();
	}
	const { code, output } = await run(process.execPath, ['--import', 'tsx', `${FOLDER}/${name}.ts`]);
	if (code !== 0) throw new Problem(output.trim());
	console.log(output.trim().split('\n').at(-1));
});
