/**
 * Bytes of a protected file, 200 MB whole and in ranges of 64 KB: from Stile alone, through nginx with the internal redirect
 * that ships with Stile, and, as the limit of what this machine can, from nginx unprotected. Then the memory of Stile while
 * 500 slow readers take the file.
 */
import { readFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { launch, portsFrom } from '../scripts/lib/launch.mjs';
import { startNginx } from '../scripts/lib/nginx.mjs';
import { rangeRate, slowReaders, wholeRate, type Target } from './lib/raw';
import { report, rounded } from './lib/report';
import { makeShop } from './lib/shop';

const FOLDER = '.stile/bench';
const BYTES = 200 * 1024 ** 2;
const RANGE = 64 * 1024;
const TIMES = 6;
const RANGES = { seconds: 4, connections: 8 };
const READERS = 500;
const NGINX_PORT = 4360;
const BEHIND_PORT = 4350;

const world = await launch({
	folder: FOLDER,
	ports: portsFrom(4300),
	isFresh: true,
	say: (_name, work) => work()
});
try {
	const { settings } = world;
	const cookie = await makeShop(settings, FOLDER, BYTES);
	const alone = await world.startStile();
	const front = `http://127.0.0.1:${NGINX_PORT}`;
	await world.startStile({
		STILE_PORT: String(BEHIND_PORT),
		STILE_ORIGIN: front,
		STILE_REDIRECT_PREFIX: '/stile-bytes/',
		STILE_CLIENT_ADDRESS_HEADER: 'x-forwarded-for'
	});
	world.alsoStop(
		await startNginx({
			folder: FOLDER,
			port: NGINX_PORT,
			stilePort: BEHIND_PORT,
			storage: settings.STILE_STORAGE ?? '',
			bare: '/bare/'
		})
	);
	const link = await linkTo(settings.STILE_ORIGIN ?? '', cookie);
	const own: Target = {
		port: Number(settings.STILE_PORT),
		host: `127.0.0.1:${settings.STILE_PORT}`,
		path: link,
		cookie
	};
	const redirected: Target = { ...own, port: NGINX_PORT, host: `127.0.0.1:${NGINX_PORT}` };
	const bare: Target = { ...redirected, path: `/bare/${originalKey(link)}`, cookie: null };

	const whole = { bare: 0, redirect: 0, alone: 0 };
	const ranges = { bare: 0, redirect: 0, alone: 0 };
	// In turns, and the best of each: the machine is shared, and nobody should have all of its bad moments.
	for (let round = 0; round < 3; round++) {
		for (const [name, target] of [
			['bare', bare],
			['redirect', redirected],
			['alone', own]
		] as const) {
			whole[name] = Math.max(whole[name], await wholeRate(target, BYTES, TIMES));
			ranges[name] = Math.max(ranges[name], await rangeRate(target, BYTES, RANGE, RANGES));
		}
	}
	report('bytes', {
		wholeMbPerSecond: each(whole),
		rangesPerSecond: each(ranges),
		redirectWholeRatio: rounded(whole.redirect / whole.bare),
		redirectRangeRatio: rounded(ranges.redirect / ranges.bare),
		aloneWholeRatio: rounded(whole.alone / whole.bare),
		aloneRangeRatio: rounded(ranges.alone / ranges.bare),
		slowReadersMb: rounded(await memoryWith(own, alone.child.pid ?? 0))
	});
} finally {
	await world.stop();
}

function each(rates: Record<string, number>): Record<string, number> {
	return Object.fromEntries(Object.entries(rates).map(([name, rate]) => [name, rounded(rate)]));
}

/** The address that a press on the file's page gives. */
async function linkTo(origin: string, cookie: string): Promise<string> {
	const answer = await fetch(`${origin}/files/drawings?/download`, {
		method: 'POST',
		redirect: 'manual',
		headers: { cookie, origin, 'content-type': 'application/x-www-form-urlencoded', accept: 'text/html' }
	});
	const location = answer.headers.get('location');
	if (!location) throw new Error(`The press was answered ${answer.status}`);
	return location;
}

/** Where the file lies, from what its link says of itself. */
function originalKey(link: string): string {
	const payload = link.split('/')[3]?.split('.')[0] ?? '';
	const fields = JSON.parse(Buffer.from(payload, 'base64url').toString()) as string[];
	return `originals/${fields[3]}`;
}

/** Megabytes that the process needs on top while so many slow readers take the file. */
async function memoryWith(target: Target, pid: number): Promise<number> {
	const residentMb = () =>
		Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
	const before = residentMb();
	const end = await slowReaders(target, READERS);
	let most = 0;
	for (let n = 0; n < 40; n++) {
		await sleep(250);
		most = Math.max(most, residentMb());
	}
	end();
	return most - before;
}
