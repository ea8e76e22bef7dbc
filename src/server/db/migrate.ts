/**
 * Runs the migrations that are missing, statement by statement.
 *
 * MariaDB commits each change of a table by itself, so a migration that is interrupted is half done. What was done is
 * therefore written down for each statement: whoever starts next goes on from there. One that was begun and not written
 * down may have been done; it is run again, and that what it makes is there already (or what it drops is gone) is no fault.
 */
import { readFileSync } from 'node:fs';
import { createConnection, type Connection, type RowDataPacket } from 'mysql2/promise';
import type { Pool } from 'mysql2/promise';
import { errorNumber } from './connect';

const FOLDER = 'src/server/db/migrations';
const LOCK = 'stile-migrations';
const LOCK_WAIT_SECONDS = 120;

interface Journal {
	entries: { tag: string; when: number }[];
}

/** Table, column, key, trigger, constraint or primary key is there already; or is not there to be dropped. */
const DONE_ALREADY = new Set([1050, 1060, 1061, 1068, 1091, 1359, 1360, 1826, 1051]);

export class MigrationFailed extends Error {
	readonly code = 'migration-failed';
}

/** Runs what is missing. Two starts at once take turns: the second waits, and then finds it done. */
export async function runMigrations(databaseUrl: string, folder = FOLDER): Promise<void> {
	// A connection of its own, without the bounds of the pools: a large table takes its time.
	const connection = await createConnection({ uri: databaseUrl, timezone: 'Z' });
	try {
		await connection.query("SET time_zone = '+00:00'");
		await takeLock(connection);
		await makeTables(connection);
		for (const { tag } of journalOf(folder).entries) await runOne(connection, folder, tag);
	} finally {
		// Its end gives the lock back.
		await connection.end().catch(() => connection.destroy());
	}
}

async function takeLock(connection: Connection): Promise<void> {
	const [rows] = await connection.query<RowDataPacket[]>('SELECT GET_LOCK(?, ?) AS taken', [
		LOCK,
		LOCK_WAIT_SECONDS
	]);
	if (Number(rows[0]?.taken) !== 1)
		throw new MigrationFailed(
			`Another start has been migrating this database for ${LOCK_WAIT_SECONDS} seconds. Wait until it is done, then start again.`
		);
}

async function makeTables(connection: Connection): Promise<void> {
	await connection.query(
		'CREATE TABLE IF NOT EXISTS migration_steps (tag VARCHAR(120) NOT NULL, step INT NOT NULL, done_at DATETIME(3), PRIMARY KEY (tag, step))'
	);
	await connection.query(
		'CREATE TABLE IF NOT EXISTS migrations_done (tag VARCHAR(120) NOT NULL PRIMARY KEY, at DATETIME(3) NOT NULL)'
	);
}

function journalOf(folder: string): Journal {
	return JSON.parse(readFileSync(`${folder}/meta/_journal.json`, 'utf8')) as Journal;
}

async function runOne(connection: Connection, folder: string, tag: string): Promise<void> {
	const [done] = await connection.query<RowDataPacket[]>('SELECT tag FROM migrations_done WHERE tag = ?', [
		tag
	]);
	if (done.length > 0) return;
	const statements = readFileSync(`${folder}/${tag}.sql`, 'utf8')
		.split('--> statement-breakpoint')
		.map((text) => text.trim())
		.filter((text) => text !== '');
	if (!(await wasRunBefore(connection, folder, tag))) await runSteps(connection, tag, statements);
	await connection.query('INSERT INTO migrations_done (tag, at) VALUES (?, ?)', [tag, new Date()]);
}

/** By the migrator of earlier versions, which kept a table of its own. */
async function wasRunBefore(connection: Connection, folder: string, tag: string): Promise<boolean> {
	const when = journalOf(folder).entries.find((entry) => entry.tag === tag)?.when ?? Infinity;
	try {
		const [rows] = await connection.query<RowDataPacket[]>(
			'SELECT 1 FROM __drizzle_migrations WHERE created_at >= ? LIMIT 1',
			[when]
		);
		return rows.length > 0;
	} catch (error) {
		if (errorNumber(error) === NO_SUCH_TABLE) return false;
		throw error;
	}
}
const NO_SUCH_TABLE = 1146;

async function runSteps(connection: Connection, tag: string, statements: readonly string[]): Promise<void> {
	const [known] = await connection.query<RowDataPacket[]>(
		'SELECT step, done_at FROM migration_steps WHERE tag = ?',
		[tag]
	);
	const done = new Set(known.filter(({ done_at }) => done_at !== null).map(({ step }) => Number(step)));
	const planned = new Set(known.map(({ step }) => Number(step)));
	const fresh = statements.map((_, step) => [tag, step]).filter(([, step]) => !planned.has(Number(step)));
	if (fresh.length > 0) await connection.query('INSERT INTO migration_steps (tag, step) VALUES ?', [fresh]);
	/** Only the first that is not written down as done may have been begun before. */
	let mayBeDone = known.length > 0;
	for (const [step, statement] of statements.entries()) {
		if (done.has(step)) continue;
		await runStep(connection, tag, step, statement, mayBeDone);
		mayBeDone = false;
	}
}

async function runStep(
	connection: Connection,
	tag: string,
	step: number,
	statement: string,
	mayBeDone: boolean
): Promise<void> {
	// Rows and their being done are one; a change of a table commits by itself.
	const isRows = /^(?:--[^\n]*\n\s*)*(?:INSERT|UPDATE|DELETE)/i.test(statement);
	if (isRows) await connection.query('START TRANSACTION');
	try {
		await connection.query(statement);
	} catch (error) {
		const number = errorNumber(error);
		if (!mayBeDone || number === null || !DONE_ALREADY.has(number)) {
			const cause = error instanceof Error ? error.message : String(error);
			throw new MigrationFailed(`Statement ${step + 1} of ${tag} failed: ${cause}`, { cause: error });
		}
	}
	await connection.query('UPDATE migration_steps SET done_at = ? WHERE tag = ? AND step = ?', [
		new Date(),
		tag,
		step
	]);
	if (isRows) await connection.query('COMMIT');
}

/** Whether the database has every migration that this version ships. */
export async function isMigrated(pool: Pool): Promise<boolean> {
	const { entries } = journalOf(FOLDER);
	const [rows] = await pool.query<RowDataPacket[]>('SELECT tag FROM migrations_done');
	const done = new Set(rows.map((row) => String(row.tag)));
	return entries.every(({ tag }) => done.has(tag));
}
