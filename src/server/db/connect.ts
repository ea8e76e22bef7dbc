import { drizzle, type MySql2Database } from 'drizzle-orm/mysql2';
import { createPool, type Pool } from 'mysql2/promise';

export type Db = MySql2Database;
export type Tx = Parameters<Parameters<Db['transaction']>[0]>[0];
/** A query runs on the database or inside a transaction. */
export type Handle = Db | Tx;

export interface Connected {
	db: Db;
	pool: Pool;
}

/** How a pool waits. Every wait has an end. */
interface Waits {
	connections: number;
	/** For a connection that is free. */
	acquireMs: number;
	/** For the answer to one statement: a database that is silent counts as gone. */
	answerMs: number;
	/** How long the database itself works on a statement, and waits for a lock. */
	statementSeconds: number;
	lockSeconds: number;
}

const WORK: Waits = {
	connections: 12,
	acquireMs: 10_000,
	answerMs: 40_000,
	statementSeconds: 30,
	lockSeconds: 10
};

/** For what use cases do. */
export function connect(databaseUrl: string, connections = WORK.connections): Connected {
	return connectWith(databaseUrl, { ...WORK, connections });
}

/**
 * For rights, leases and health: they never stand behind the work of others.
 * @param patienceMs how long the database may take for anything
 */
export function connectVital(databaseUrl: string, patienceMs: number, connections = 4): Connected {
	const seconds = patienceMs / 1000;
	return connectWith(databaseUrl, {
		connections,
		acquireMs: patienceMs,
		answerMs: patienceMs,
		statementSeconds: seconds,
		lockSeconds: seconds
	});
}

function connectWith(databaseUrl: string, waits: Waits): Connected {
	const pool = createPool({
		uri: databaseUrl,
		connectionLimit: waits.connections,
		// Bounds the attempt alone: whoever waits for it is told by `boundAcquiring`.
		connectTimeout: 2 * waits.acquireMs,
		// Instants are read as text and taken for UTC, see schema/types.ts.
		dateStrings: true,
		timezone: 'Z',
		// JSON comes as text, whatever the server says of its type; schema/types.ts parses it.
		jsonStrings: true,
		supportBigNumbers: true
	});
	const settings = `SET time_zone = '+00:00', tx_isolation = 'READ-COMMITTED', max_statement_time = ${waits.statementSeconds}, innodb_lock_wait_timeout = ${waits.lockSeconds}`;
	pool.pool.on('connection', (connection) => {
		boundAnswers(connection as unknown as Answering, waits.answerMs);
		connection.query(settings);
	});
	boundAcquiring(pool.pool as unknown as Acquiring, waits.acquireMs);
	return { db: drizzle(pool), pool };
}

export class DatabaseSilent extends Error {
	readonly code = 'database-silent';
}

interface Answering {
	stream: { destroy(error: Error): void };
	addCommand(command: NodeJS.EventEmitter): unknown;
}

const PARTS = 5;

/**
 * Calls `late` after `ms`, unless what it answers is called before. Time in which this process stood still (a machine
 * that is copied or sleeps) counts as a fifth of the wait at most: what was answered meanwhile is read first.
 */
export function unlessWithin(ms: number, late: () => void): () => void {
	let timer: NodeJS.Timeout;
	const wait = (parts: number) => {
		timer = setTimeout(() => (parts > 1 ? wait(parts - 1) : late()), ms / PARTS).unref();
	};
	wait(PARTS);
	return () => clearTimeout(timer);
}

/** A connection that does not answer is ended: whoever waits for it hears of it, and the pool makes another. */
function boundAnswers(connection: Answering, answerMs: number): void {
	const add = connection.addCommand.bind(connection);
	connection.addCommand = (command) => {
		const answered = unlessWithin(answerMs, () =>
			connection.stream.destroy(new DatabaseSilent('The database does not answer'))
		);
		command.once('end', answered);
		command.once('error', answered);
		return add(command);
	};
}

type Acquired = (error: Error | null, connection?: { release(): void }) => void;
interface Acquiring {
	getConnection(callback: Acquired): void;
}

/** Who waits too long for a connection is told so; the connection that comes after that goes back. */
function boundAcquiring(pool: Acquiring, acquireMs: number): void {
	const acquire = pool.getConnection.bind(pool);
	pool.getConnection = (callback) => {
		let isLate = false;
		const came = unlessWithin(acquireMs, () => {
			isLate = true;
			callback(new DatabaseSilent('No connection to the database came free'));
		});
		acquire((error, connection) => {
			came();
			if (isLate) connection?.release();
			else callback(error, connection);
		});
	};
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

/** What was free a moment ago: whoever asks again is given another, or finds what was made there. */
const ADDRESS_KEY = 'items_site_address';
const TAKEN_KEYS = [ADDRESS_KEY, 'order_claims_once'];

/** What the database took back because somebody else was at the same is asked again. */
export async function repeating<T>(ask: () => Promise<T>): Promise<T> {
	for (let attempt = 1; ; attempt++) {
		try {
			return await ask();
		} catch (error) {
			if (attempt >= TRIES || !isWorthRepeating(error)) throw error;
		}
	}
}

export const TRIES = 6;

export function isWorthRepeating(error: unknown): boolean {
	const number = errorNumber(error);
	return number === DEADLOCK || number === LOCK_WAIT || TAKEN_KEYS.some((key) => isTaken(error, key));
}

export function isTakenAddress(error: unknown): boolean {
	return isTaken(error, ADDRESS_KEY);
}

function isTaken(error: unknown, key: string): boolean {
	if (errorNumber(error) !== DUPLICATE_KEY) return false;
	for (let e = error; e instanceof Error; e = e.cause) if (e.message.includes(key)) return true;
	return false;
}
