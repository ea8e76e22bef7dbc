/**
 * The practice book: a database beside the site's own, in which people, sales, money, mails and jobs have tables of their own,
 * and what is sold and how the site is set are views of the site's. So whatever is bought there is real in every step, and stands
 * in no figure, list or number of the site; and deleting it deletes nothing else.
 */
import { createHash } from 'node:crypto';
import { createConnection, type Connection, type RowDataPacket } from 'mysql2/promise';
import { errorNumber } from './connect';

/** What the practice book has in common with the site: what is sold, where it lies, who may open it, and how the site is set. */
export const SHARED: ReadonlySet<string> = new Set([
	...['fences', 'crossings', 'namings', 'releases', 'code_batches', 'codes'],
	...['policy_versions', 'policy_changes', 'policy_bases', 'rights_counter', 'rights_changes'],
	...['items', 'item_texts', 'item_pictures', 'link_items', 'file_items', 'item_ways', 'item_deterrents'],
	...['categories', 'tags', 'item_tags', 'assets', 'placements', 'captions', 'ways_of_watching'],
	...['roles', 'sites', 'settings', 'mail_texts', 'ladders', 'plans', 'prices', 'price_versions', 'extras']
]);
/** How the migrations of a database went is its own affair. */
const OF_MIGRATIONS: ReadonlySet<string> = new Set([
	'migration_steps',
	'migrations_done',
	'__drizzle_migrations'
]);

const LOCK_WAIT_SECONDS = 60;
/** No such database; access denied to a database, to a command, to a view. */
const NO_SUCH_DATABASE = 1049;
const DENIED = new Set([1044, 1045, 1142, 1143, 1370]);

/** The database's user may not make it: somebody who runs the database has to let them. */
export class NoPracticeBook extends Error {
	readonly code = 'no-practice-book';
	constructor(readonly database: string) {
		super(`The user of the database may not make the database ${database}`);
	}
}

export function practiceUrl(databaseUrl: string): string {
	const url = new URL(databaseUrl);
	url.pathname += '_practice';
	return url.toString();
}

const nameIn = (url: string) => decodeURIComponent(new URL(url).pathname.slice(1));

/** Whether there is one of this version of Stile. */
export async function hasPracticeBook(databaseUrl: string): Promise<boolean> {
	const connection = await connectedTo(databaseUrl);
	try {
		return await isMade(connection, databaseUrl);
	} finally {
		await connection.end();
	}
}

/** Whether something in it falls due. */
export async function isPracticeBusy(databaseUrl: string): Promise<boolean> {
	const connection = await connectedTo(databaseUrl);
	try {
		if (!(await isMade(connection, databaseUrl))) return false;
		const jobs = `${quoted(nameIn(practiceUrl(databaseUrl)))}.jobs`;
		const [rows] = await connection.query<RowDataPacket[]>(
			`SELECT 1 FROM ${jobs} WHERE state = 'waiting' LIMIT 1`
		);
		return rows.length > 0;
	} finally {
		await connection.end();
	}
}

/** Makes it where there is none, or only one of an earlier version of Stile: what was bought there before is gone. */
export async function makePracticeBook(databaseUrl: string): Promise<void> {
	const [site, book] = [nameIn(databaseUrl), nameIn(practiceUrl(databaseUrl))];
	let connection: Connection | null = null;
	try {
		connection = await connectedTo(databaseUrl);
		const [locked] = await connection.query<RowDataPacket[]>('SELECT GET_LOCK(?, ?) AS taken', [
			book.slice(-60),
			LOCK_WAIT_SECONDS
		]);
		if (Number(locked[0]?.taken) !== 1) throw new Error('Another node is making the practice book');
		if (await isMade(connection, databaseUrl)) return;
		await connection.query(`DROP DATABASE IF EXISTS ${quoted(book)}`);
		const [made] = await connection.query<RowDataPacket[]>(
			'SELECT default_character_set_name AS letters, default_collation_name AS orderOf FROM information_schema.schemata WHERE schema_name = ?',
			[site]
		);
		await connection.query(
			`CREATE DATABASE ${quoted(book)} CHARACTER SET ${String(made[0]?.letters)} COLLATE ${String(made[0]?.orderOf)}`
		);
		for (const table of await tablesOf(connection, site)) {
			const [own, its] = [`${quoted(book)}.${quoted(table)}`, `${quoted(site)}.${quoted(table)}`];
			if (SHARED.has(table)) await connection.query(`CREATE VIEW ${own} AS SELECT * FROM ${its}`);
			else await connection.query(`CREATE TABLE ${own} LIKE ${its}`);
		}
		await startClock(connection, site, book);
		await connection.query(`CREATE TABLE ${quoted(book)}.made (print CHAR(64) NOT NULL)`);
		await connection.query(`INSERT INTO ${quoted(book)}.made VALUES (?)`, [await printOf(connection, site)]);
	} catch (error) {
		if (DENIED.has(errorNumber(error) ?? 0)) throw new NoPracticeBook(book);
		throw error;
	} finally {
		// Its end gives the lock back.
		await connection?.end();
	}
}

/** Empties all of its tables; its clock is the site's again. */
export async function emptyPracticeBook(databaseUrl: string): Promise<void> {
	const [site, book] = [nameIn(databaseUrl), nameIn(practiceUrl(databaseUrl))];
	const connection = await connectedTo(databaseUrl);
	try {
		const own = (await tablesOf(connection, book)).filter((table) => table !== 'made');
		await connection.query('START TRANSACTION');
		for (const table of own) await connection.query(`DELETE FROM ${quoted(book)}.${quoted(table)}`);
		await startClock(connection, site, book);
		await connection.query('COMMIT');
	} finally {
		await connection.end();
	}
}

async function startClock(connection: Connection, site: string, book: string): Promise<void> {
	await connection.query(
		`INSERT INTO ${quoted(book)}.business_clock SELECT * FROM ${quoted(site)}.business_clock`
	);
}

async function connectedTo(databaseUrl: string): Promise<Connection> {
	const connection = await createConnection({ uri: databaseUrl, timezone: 'Z' });
	await connection.query("SET time_zone = '+00:00'");
	return connection;
}

async function isMade(connection: Connection, databaseUrl: string): Promise<boolean> {
	const [site, book] = [nameIn(databaseUrl), nameIn(practiceUrl(databaseUrl))];
	try {
		const [rows] = await connection.query<RowDataPacket[]>(`SELECT print FROM ${quoted(book)}.made`);
		return rows[0]?.print === (await printOf(connection, site));
	} catch (error) {
		// Not there, not whole, or not to be seen.
		const number = errorNumber(error) ?? 0;
		if (number === NO_SUCH_DATABASE || number === NO_SUCH_TABLE || DENIED.has(number)) return false;
		throw error;
	}
}
const NO_SUCH_TABLE = 1146;

/** Tables, and not views. */
async function tablesOf(connection: Connection, database: string): Promise<string[]> {
	const [rows] = await connection.query<RowDataPacket[]>(
		"SELECT table_name AS name FROM information_schema.tables WHERE table_schema = ? AND table_type = 'BASE TABLE' ORDER BY table_name",
		[database]
	);
	return rows.map(({ name }) => String(name)).filter((name) => !OF_MIGRATIONS.has(name));
}

/** Of the tables as this version of Stile has them: where they become others, so does the practice book. */
async function printOf(connection: Connection, site: string): Promise<string> {
	const [rows] = await connection.query<RowDataPacket[]>(
		'SELECT table_name AS t, column_name AS c, column_type AS k FROM information_schema.columns WHERE table_schema = ? ORDER BY table_name, ordinal_position',
		[site]
	);
	const hash = createHash('sha256').update([...SHARED].join(' '));
	for (const { t, c, k } of rows) hash.update(`${String(t)}.${String(c)} ${String(k)}\n`);
	return hash.digest('hex');
}

function quoted(name: string): string {
	return `\`${name.replaceAll('`', '``')}\``;
}
