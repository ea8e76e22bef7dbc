import { readFileSync } from 'node:fs';
import { drizzle } from 'drizzle-orm/mysql2';
import { migrate } from 'drizzle-orm/mysql2/migrator';
import type { Pool, RowDataPacket } from 'mysql2/promise';

const FOLDER = 'src/server/db/migrations';
const LOCK = 'stile-migrations';
const LOCK_WAIT_SECONDS = 120;

/** Runs what is missing. Two starts at once take turns. */
export async function runMigrations(pool: Pool): Promise<void> {
	const connection = await pool.getConnection();
	try {
		await connection.query('SELECT GET_LOCK(?, ?)', [LOCK, LOCK_WAIT_SECONDS]);
		await migrate(drizzle(connection), { migrationsFolder: FOLDER });
	} finally {
		await connection.query('SELECT RELEASE_LOCK(?)', [LOCK]);
		connection.release();
	}
}

/** Whether the database has every migration that this version ships. */
export async function isMigrated(pool: Pool): Promise<boolean> {
	const journal = JSON.parse(readFileSync(`${FOLDER}/meta/_journal.json`, 'utf8')) as { entries: unknown[] };
	const [rows] = await pool.query<RowDataPacket[]>('SELECT COUNT(*) AS done FROM __drizzle_migrations');
	return Number(rows[0]?.done) >= journal.entries.length;
}
