import { drizzle, type MySql2Database } from 'drizzle-orm/mysql2';
import { createPool, type Pool } from 'mysql2/promise';

export type Db = MySql2Database;
export type Tx = Parameters<Parameters<Db['transaction']>[0]>[0];
/** A query runs on the database or inside a transaction. */
export type Handle = Db | Tx;

export function connect(databaseUrl: string): { db: Db; pool: Pool } {
	const pool = createPool({
		uri: databaseUrl,
		connectionLimit: 12,
		// Instants are read as text and taken for UTC, see schema/types.ts.
		dateStrings: true,
		timezone: 'Z',
		// JSON comes as text, whatever the server says of its type; schema/types.ts parses it.
		jsonStrings: true,
		supportBigNumbers: true
	});
	pool.pool.on('connection', (connection) => {
		connection.query("SET time_zone = '+00:00', tx_isolation = 'READ-COMMITTED'");
	});
	return { db: drizzle(pool), pool };
}

/** MariaDB's error number, wherever the layers put it. */
export function errorNumber(error: unknown): number | null {
	for (let e = error; e instanceof Error; e = e.cause) {
		if ('errno' in e && typeof e.errno === 'number') return e.errno;
	}
	return null;
}

export const DUPLICATE_KEY = 1062;
const DEADLOCK = 1213;
const LOCK_WAIT = 1205;

/** An address that was free a moment ago: whoever asks again is given another, or finds what was made there. */
const ADDRESS_KEY = 'items_address_unique';

export function isWorthRepeating(error: unknown): boolean {
	const number = errorNumber(error);
	return number === DEADLOCK || number === LOCK_WAIT || isTakenAddress(error);
}

export function isTakenAddress(error: unknown): boolean {
	if (errorNumber(error) !== DUPLICATE_KEY) return false;
	for (let e = error; e instanceof Error; e = e.cause) if (e.message.includes(ADDRESS_KEY)) return true;
	return false;
}
