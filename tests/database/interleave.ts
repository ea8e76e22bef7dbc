/** Holds a transaction between two of its statements, while others do what they do. */
import type { Pool, PoolConnection } from 'mysql2/promise';
import type { Db } from '$server/db/connect';

interface Held {
	/** Whether anybody ran the statement. */
	wasMet(): boolean;
	/** Lets the database be as it was. */
	end(): void;
}

/** Whoever runs a statement like this for the `nth` time in all waits after it until `meanwhile` is over. */
export function holdAfter(db: Db, statement: RegExp, meanwhile: () => Promise<unknown>, nth = 1): Held {
	const pool = (db as Db & { $client: Pool }).$client;
	const acquire = pool.getConnection.bind(pool);
	let met = 0;
	pool.getConnection = async () => {
		const connection = await acquire();
		const query = connection.query.bind(connection) as (...args: unknown[]) => Promise<unknown>;
		const watched = async (...args: unknown[]) => {
			const result = await query(...args);
			if (statement.test(textOf(args[0])) && ++met === nth) await meanwhile();
			return result;
		};
		return new Proxy(connection, {
			get: (target, name) => {
				if (name === 'query') return watched;
				const value: unknown = Reflect.get(target, name);
				return typeof value === 'function' ? (value.bind(target) as unknown) : value;
			}
		}) as PoolConnection;
	};
	return { wasMet: () => met >= nth, end: () => void (pool.getConnection = acquire) };
}

function textOf(query: unknown): string {
	return typeof query === 'string' ? query : String((query as { sql?: string } | null)?.sql ?? '');
}
