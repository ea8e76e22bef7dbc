/** Whether what Stile stands on answers, each within a second. */
import { setTimeout as wait } from 'node:timers/promises';
import type { Using } from '../app';
import { isMigrated } from '../db/migrate';

const ANSWER_WITHIN_MS = 1000;
/** Less than this on the disk, and what comes next cannot be written. */
const ROOM_NEEDED_BYTES = 64 * 1024 ** 2;

export interface Health {
	ready: boolean;
	[check: string]: boolean | 'ok' | 'failing';
}

export async function health(app: Using<'storage' | 'vital'>): Promise<Health> {
	const checks = await Promise.all([
		named('database', app.vital.pool.query('SELECT 1')),
		named('storage', app.storage.check()),
		named(
			'room',
			app.storage.freeBytes().then((free) => free >= ROOM_NEEDED_BYTES || Promise.reject(new Error('full')))
		),
		named(
			'migrations',
			isMigrated(app.vital.pool).then((done) => done || Promise.reject(new Error('missing')))
		)
	]);
	return {
		ready: checks.every(([, isOk]) => isOk),
		...Object.fromEntries(checks.map(([name, isOk]) => [name, isOk ? 'ok' : 'failing']))
	};
}

/** What does not answer in time is failing. */
function named(name: string, check: Promise<unknown>): Promise<[string, boolean]> {
	const late = wait(ANSWER_WITHIN_MS, [name, false] as [string, boolean], { ref: false });
	return Promise.race([
		check.then(
			(): [string, boolean] => [name, true],
			(): [string, boolean] => [name, false]
		),
		late
	]);
}
