/**
 * Databases for tests, each as the migrations leave it. Migrating takes a second, emptying a tenth of one: a database
 * that a test gives back is emptied for the next one that asks, of this file or of a later one.
 */
import { createConnection, type Connection, type RowDataPacket } from 'mysql2/promise';
import { runMigrations } from '$server/db/migrate';

/** What the migrations themselves write is copied from here. */
const PRISTINE = 'pristine';

export interface Lent {
	url: string;
	giveBack(): Promise<void>;
}

/** A migrated database that nobody else has, with nothing in it but what the migrations put there. */
export async function lendDatabase(base: string): Promise<Lent> {
	const admin = await createConnection({ uri: base, multipleStatements: true });
	for (let number = 1; ; number++) {
		const name = `world_${number}`;
		if (!(await isOurs(admin, name))) continue;
		const wasThere = await exists(admin, name);
		if (!wasThere) await admin.query(`CREATE DATABASE ${name}`);
		await runMigrations(`${base}${name}`);
		if (wasThere) await empty(admin, base, name);
		return {
			url: `${base}${name}`,
			// The connection's end gives the lock back.
			giveBack: () => admin.end()
		};
	}
}

/** Held by the connection, so that one whose test broke off is free again. */
async function isOurs(admin: Connection, name: string): Promise<boolean> {
	const [rows] = await admin.query<RowDataPacket[]>('SELECT GET_LOCK(?, 0) AS taken', [name]);
	return Number(rows[0]?.taken) === 1;
}

async function exists(admin: Connection, name: string): Promise<boolean> {
	const [rows] = await admin.query<RowDataPacket[]>(
		'SELECT 1 FROM information_schema.schemata WHERE schema_name = ?',
		[name]
	);
	return rows.length > 0;
}

/** Truncating asks no trigger, which lets nobody remove a posting or a receipt. */
async function empty(admin: Connection, base: string, name: string): Promise<void> {
	await makePristine(admin, base);
	const clear = (await tablesWithRows(admin, name)).map((table) => `TRUNCATE ${name}.${table}`);
	const fill = (await tablesWithRows(admin, PRISTINE)).map(
		(table) => `INSERT INTO ${name}.${table} SELECT * FROM ${PRISTINE}.${table}`
	);
	await admin.query(['SET foreign_key_checks = 0', ...clear, ...fill].join(';'));
}

async function makePristine(admin: Connection, base: string): Promise<void> {
	await admin.query(`CREATE DATABASE IF NOT EXISTS ${PRISTINE}`);
	await runMigrations(`${base}${PRISTINE}`);
}

/** Beside what is written down of the migrations. */
async function tablesWithRows(admin: Connection, name: string): Promise<string[]> {
	const [tables] = await admin.query<RowDataPacket[]>(
		"SELECT table_name AS name FROM information_schema.tables WHERE table_schema = ? AND table_type = 'BASE TABLE'",
		[name]
	);
	const names = tables.map((row) => String(row.name)).filter((table) => !table.startsWith('migration'));
	const [rows] = await admin.query<RowDataPacket[]>(
		`SELECT ${names.map((table) => `EXISTS (SELECT 1 FROM ${name}.${table}) AS ${table}`).join(', ')}`
	);
	return names.filter((table) => Number(rows[0]?.[table]) === 1);
}
