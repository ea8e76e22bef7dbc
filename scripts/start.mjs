/** `npm start`: everything from an empty machine to a running demo. `-- --fresh` starts the demo anew. */
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import process from 'node:process';
import { buildIfChanged } from './lib/build.mjs';
import { launch, portsFrom } from './lib/launch.mjs';
import { installDebianPackages, installNpmPackages, NEEDED } from './lib/packages.mjs';
import { needFreePorts } from './lib/processes.mjs';
import { main, Problem, run, step } from './lib/steps.mjs';

const FOLDER = '.stile';
const SEEDED = `${FOLDER}/seeded.json`;
const RUNNING = `${FOLDER}/running.json`;

await main(async () => {
	const ports = portsFrom(4100);
	const isFresh = process.argv.includes('--fresh') || !existsSync(SEEDED);
	await needFreePorts(ports);
	await step("Debian's packages", () => installDebianPackages(NEEDED));
	await step('npm packages', installNpmPackages);
	mkdirSync(FOLDER, { recursive: true });
	const world = await launch({ folder: FOLDER, ports, isFresh });
	const stopped = whenStopped(world);
	try {
		await step('Building what changed', buildIfChanged);
		if (isFresh) {
			rmSync(SEEDED, { force: true });
			await step('Making the demo: media, orders of half a year', () => seed(world.settings));
		}
		const stile = await step('Starting Stile', world.startStile);
		stile.ended.then(() => stopped.end('Stile has ended by itself. See .stile/logs/stile.log.'));
		announce(ports, world.settings);
		await stopped.promise;
	} finally {
		rmSync(RUNNING, { force: true });
		await world.stop();
	}
});

async function seed(settings) {
	const { code, output } = await run(process.execPath, ['--import', 'tsx', 'demo/seed.ts'], {
		env: { ...settings, STILE_LOG_LEVEL: 'warn', DEMO_MEDIA: `${FOLDER}/media`, DEMO_SEEDED: SEEDED }
	});
	if (code !== 0)
		throw new Problem(`The demo could not be made:\n${output.trim().split('\n').slice(-25).join('\n')}`);
}

function announce(ports, { STILE_ORIGIN: front, STILE_DATABASE_URL: database }) {
	const { signIns, samples } = JSON.parse(readFileSync(SEEDED, 'utf8'));
	const running = {
		front,
		database,
		desk: `${front}/desk`,
		till: `http://127.0.0.1:${ports.TILL_PORT}`,
		postbox: `http://127.0.0.1:${ports.POSTBOX_PORT}`,
		bucket: `http://127.0.0.1:${ports.BUCKET_PORT}`,
		elsewhere: `http://127.0.0.1:${ports.ELSEWHERE_PORT}`,
		signIns,
		samples: Object.fromEntries(Object.entries(samples).map(([name, path]) => [name, front + path]))
	};
	writeFileSync(RUNNING, JSON.stringify(running, null, '\t'));
	console.log(`
  Stile      ${running.front}
  Desk       ${running.desk}
  Till       ${running.till}
  Postbox    ${running.postbox}
  Bucket     ${running.bucket}
  Elsewhere  ${running.elsewhere}

  Sign in at ${running.front}/sign-in
${Object.entries(signIns)
	.map(([who, { email, password }]) => `    ${who.padEnd(7)} ${email}   ${password}`)
	.join('\n')}

  Ctrl-C stops all of it.`);
}

/** Ctrl-C and friends end the wait; so does `end`. */
function whenStopped(world) {
	let finish;
	let isOver = false;
	const promise = new Promise((resolve, reject) => {
		finish = (problem) => {
			if (isOver) return;
			isOver = true;
			if (problem) reject(new Problem(problem));
			else resolve();
		};
	});
	promise.catch(() => {});
	const onSignal = async () => {
		if (isOver) return;
		console.log('\nStopping …');
		finish();
		await world.stop();
		rmSync(RUNNING, { force: true });
		process.exit(0);
	};
	process.on('SIGINT', onSignal);
	process.on('SIGTERM', onSignal);
	return { promise, end: finish };
}
