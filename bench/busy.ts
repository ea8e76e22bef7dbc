/**
 * Sign-ins with a password while a table of 5,000 rows is brought in by the same process, rehearsal included. The limit for
 * one sign-in is 300 ms; the peer is the same sign-ins with nothing beside them.
 */
import { setTimeout as wait } from 'node:timers/promises';
import { launch, portsFrom } from '../scripts/lib/launch.mjs';
import { compose, type Stile } from '../src/server/compose';
import { readSettings } from '../src/server/settings';
import { agreeing } from '../src/server/usecases/access/rehearsed-save';
import { signIn } from '../src/server/usecases/accounts/sign-in';
import { importTable } from '../src/server/usecases/library/import-table';
import { makeShop } from './lib/shop';
import { percentile, report, rounded } from './lib/report';

const FOLDER = '.stile/bench';
const ROWS = 5000;
const LIMIT_MS = 300;
const OWNER = { email: 'ottilie@fernhollow.example', password: 'gear train of four' };

const rows = Array.from(
	{ length: ROWS },
	(_, n) => `Oil ${n},/oil-${n},link,published,open,Wheels/Shelf ${n % 20},wet,https://oil.example/${n}`
);
const TABLE = `title,address,kind,state,base,shelf,tags,target\n${rows.join('\n')}\n`;

const world = await launch({
	folder: FOLDER,
	ports: portsFrom(4300),
	isFresh: true,
	say: (_name, work) => work()
});
try {
	await makeShop(world.settings, FOLDER);
	const stile = await compose(readSettings({ ...world.settings, STILE_LOG_LEVEL: 'error' }));
	try {
		const alone = await signInUntil(stile, wait(5000));
		const began = performance.now();
		const beside = await signInUntil(
			stile,
			agreeing((yes) => importTable(stile.app, null, TABLE, yes))
		);
		report('busy', {
			rows: ROWS,
			importMs: Math.round(performance.now() - began),
			limitMs: LIMIT_MS,
			beside: figures(beside),
			alone: figures(alone)
		});
	} finally {
		await stile.stop();
	}
} finally {
	await world.stop();
}

/** How long each took, in milliseconds, until something else is done. */
async function signInUntil({ app }: Stile, other: Promise<unknown>): Promise<number[]> {
	let isDone = false;
	const done = other.finally(() => (isDone = true));
	const times: number[] = [];
	while (!isDone) {
		const at = performance.now();
		// A client of its own each time: a limit is no measure of speed.
		const client = `192.0.2.${times.length % 250}`;
		const signed = await signIn(app, { ...OWNER, client });
		if (!signed.ok) throw new Error(signed.code);
		times.push(performance.now() - at);
		await wait(20);
	}
	await done;
	return times;
}

function figures(times: readonly number[]) {
	return {
		signIns: times.length,
		medianMs: rounded(percentile(times, 0.5)),
		p95Ms: rounded(percentile(times, 0.95)),
		slowestMs: rounded(Math.max(...times))
	};
}
