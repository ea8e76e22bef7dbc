/**
 * Selling. The core: 100,000 agreements through a year on one thread (limit: 1,000 agreement-years a second). The built server on
 * loopback: signed notifications at 1,000 a second from a process of their own, whether or not the last was answered (limit:
 * as many), and whether any was lost or doubled.
 */
import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { createConnection, type RowDataPacket } from 'mysql2/promise';
import { launch, portsFrom } from '../scripts/lib/launch.mjs';
import { liveThroughYear } from './lib/agreements';
import { report, rounded } from './lib/report';
import { makeShop } from './lib/shop';

const FOLDER = '.stile/bench';
const AGREEMENTS = 100_000;
const RATE = 1000;
const SECONDS = 5;

liveThroughYear(1000);
const began = performance.now();
const facts = liveThroughYear(AGREEMENTS);
const seconds = (performance.now() - began) / 1000;

const world = await launch({
	folder: FOLDER,
	ports: portsFrom(4300),
	isFresh: true,
	say: (_name, work) => work()
});
try {
	await makeShop(world.settings, FOLDER);
	await world.startStile();
	const { STILE_ORIGIN, STILE_PAYMENTS_SECRET = '', STILE_DATABASE_URL = '' } = world.settings;
	const url = `${STILE_ORIGIN}/api/payments/notifications`;
	const { stdout } = await promisify(execFile)(process.execPath, [
		...['--import', 'tsx', 'bench/lib/notify.ts', url, STILE_PAYMENTS_SECRET, String(RATE), String(SECONDS)]
	]);
	const { accepted, ms } = JSON.parse(stdout) as { accepted: number; ms: number };
	const db = await createConnection(STILE_DATABASE_URL);
	const [[stored]] = await db.query<RowDataPacket[]>(
		"select count(*) as count from notifications where event_id like 'bench-%'"
	);
	const [[queued]] = await db.query<RowDataPacket[]>(
		"select count(*) as count from jobs where kind = 'notified'"
	);
	await db.end();
	report('billing', {
		agreementYearsPerSecond: rounded(AGREEMENTS / seconds),
		transitionsPerSecond: rounded(facts / seconds),
		limitAgreementYears: 1000,
		notificationsPerSecond: rounded((accepted * 1000) / ms),
		limitNotifications: RATE,
		sent: RATE * SECONDS,
		accepted,
		stored: Number(stored?.count),
		queued: Number(queued?.count)
	});
} finally {
	await world.stop();
}
