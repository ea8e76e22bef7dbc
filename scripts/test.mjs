/** `npm test`: sets the machine up, then runs every check. Its last line is the sum of all runners. */
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import process from 'node:process';
import { buildIfChanged } from './lib/build.mjs';
import { startDatabase } from './lib/database.mjs';
import { launch, portsFrom } from './lib/launch.mjs';
import { installDebianPackages, installNpmPackages, NEEDED_BY_TESTS } from './lib/packages.mjs';
import { stopAllOnSignal } from './lib/processes.mjs';
import { main, run, step } from './lib/steps.mjs';

const FOLDER = '.stile/test';
const DATABASE_TESTS_PORT = 4216;

/** Browsers wait for pages, pages for a database that has a second to answer, and all of them for the build: what nobody waits for comes after. */
const GIVES_WAY = ['nice', '-n', '5'];

/** Machines that run tests stand still now and then. */
const PATIENCE_MS = '5000';

let passed = 0;
let failed = 0;

stopAllOnSignal();
await main(async () => {
	await step("Debian's packages", () => installDebianPackages(NEEDED_BY_TESTS));
	await step('npm packages', installNpmPackages);
	mkdirSync(FOLDER, { recursive: true });
	await run('npx', ['svelte-kit', 'sync']);

	// Two cores, two chains: what waits for browsers is the longest, and begins as soon as there is a build.
	await Promise.all([
		builds().then((isBuilt) => (isBuilt ? endToEnd() : null)),
		staticChecks().then(() => (failed === 0 ? unitAndDatabase() : null))
	]);
	console.log(`${passed} passed, ${failed} failed`);
	process.exitCode = failed === 0 ? 0 : 1;
});

async function builds() {
	const problem = await buildIfChanged().then(
		() => null,
		(error) => error.message
	);
	count('The build', problem === null, problem ?? '');
	return problem === null;
}

async function staticChecks() {
	await check('Formatting', 'npx', ['prettier', '--check', '.']);
	await check('Dependency rules', 'npx', ['depcruise', 'src', '--config', '.dependency-cruiser.cjs']);
	await check('Types', 'npx', ['svelte-check', '--tsconfig', './tsconfig.json', '--fail-on-warnings']);
	await check('Lint', 'npx', ['eslint', '.', '--max-warnings', '0']);
}

async function check(name, command, args) {
	const [first, ...others] = GIVES_WAY;
	const { code, output } = await run(first, [...others, command, ...args]);
	count(name, code === 0, output);
}

function count(name, isGood, output = '') {
	if (isGood) passed++;
	else failed++;
	console.log(`· ${name}: ${isGood ? 'good' : 'failed'}`);
	if (!isGood) console.log(output.trim().split('\n').slice(-60).join('\n'));
}

async function unitAndDatabase() {
	const report = `${FOLDER}/vitest.json`;
	rmSync(report, { force: true });
	const database = await startDatabase({
		folder: `${FOLDER}/vitest`,
		port: DATABASE_TESTS_PORT,
		isThrowaway: true,
		before: GIVES_WAY
	});
	try {
		const [command, ...first] = GIVES_WAY;
		const { code, output } = await run(
			command,
			[...first, 'npx', 'vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile=${report}`],
			{
				env: { STILE_TEST_DATABASE: database.url('') }
			}
		);
		if (!existsSync(report)) return count('Unit and database tests', false, output);
		const { numPassedTests, numFailedTests, numTotalTestSuites } = JSON.parse(readFileSync(report, 'utf8'));
		sum(
			'Unit and database tests',
			numPassedTests,
			numFailedTests || (code === 0 && numTotalTestSuites > 0 ? 0 : 1),
			output
		);
	} finally {
		await database.stop();
	}
}

async function endToEnd() {
	const ports = portsFrom(4200);
	const report = `${FOLDER}/e2e.json`;
	rmSync(report, { force: true });
	const quiet = (_name, work) => work();
	const world = await launch({ folder: FOLDER, ports, isFresh: true, isThrowaway: true, say: quiet });
	try {
		const patience = { STILE_PATIENCE_MS: PATIENCE_MS };
		await world.startStile(patience);
		const { code, output } = await run('npx', ['playwright', 'test'], {
			env: {
				STILE_E2E_FRONT: world.settings.STILE_ORIGIN,
				STILE_E2E_TILL: `http://127.0.0.1:${ports.TILL_PORT}`,
				STILE_E2E_POSTBOX: `http://127.0.0.1:${ports.POSTBOX_PORT}`,
				STILE_E2E_BUCKET: `http://127.0.0.1:${ports.BUCKET_PORT}`,
				STILE_E2E_ELSEWHERE: `http://127.0.0.1:${ports.ELSEWHERE_PORT}`,
				STILE_E2E_OWNER_URL: world.ownerUrl() ?? '',
				// Nodes that tests start beside it are as patient.
				STILE_E2E_SETTINGS: JSON.stringify({ ...world.settings, ...patience })
			}
		});
		if (!existsSync(report)) return count('End-to-end tests', false, output);
		const { stats } = JSON.parse(readFileSync(report, 'utf8'));
		const lost = stats.unexpected + stats.flaky + stats.skipped;
		sum('End-to-end tests', stats.expected, lost || (code === 0 ? 0 : 1), output);
	} finally {
		await world.stop();
	}
}

function sum(name, good, bad, output) {
	passed += good;
	failed += bad;
	console.log(`· ${name}: ${good} passed, ${bad} failed`);
	if (bad > 0) console.log(output.trim().split('\n').slice(-120).join('\n'));
}
