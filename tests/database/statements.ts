/** Records what the database is asked, and asks it how it would go about it. */
import type { Pool, PoolConnection, RowDataPacket } from 'mysql2/promise';
import type { Db } from '$server/db/connect';

export interface Statement {
	sql: string;
	params: unknown[];
}

/** Notes each statement once; gives what was noted so far. */
export function recording(...dbs: Db[]): () => Statement[] {
	const noted = new Map<string, Statement>();
	const note = (query: unknown, params: unknown) => {
		const sql = typeof query === 'string' ? query : String((query as { sql: string }).sql);
		// Lists of any length are one statement.
		const shape = sql.replace(/\((?:\?, )*\?\)/g, '(…)').replace(/(\(…\)(?:, )?)+/g, '(…)');
		if (!noted.has(shape)) noted.set(shape, { sql, params: Array.isArray(params) ? params : [] });
	};
	const watch = (on: Pool | PoolConnection) => {
		const query = on.query.bind(on) as (...args: unknown[]) => Promise<unknown>;
		on.query = ((...args: unknown[]) => {
			note(args[0], args[1]);
			return query(...args);
		}) as typeof on.query;
	};
	for (const db of dbs) {
		const pool = (db as Db & { $client: Pool }).$client;
		watch(pool);
		const acquire = pool.getConnection.bind(pool);
		const known = new WeakSet<PoolConnection>();
		pool.getConnection = async () => {
			const connection = await acquire();
			if (!known.has(connection)) watch(connection);
			known.add(connection);
			return connection;
		};
	}
	return () => [...noted.values()];
}

export interface Read {
	table: string;
	/** How many rows the database expects to look at. */
	rows: number;
	/** Through an index, from a key or a range of it. */
	isByKey: boolean;
}

/** What a statement reads, table by table; nothing for what cannot be explained. */
export async function explained(db: Db, { sql, params }: Statement): Promise<Read[]> {
	if (!/^\s*(select|update|delete|\()/i.test(sql)) return [];
	const pool = (db as Db & { $client: Pool }).$client;
	const [rows] = await pool.query<RowDataPacket[]>(`EXPLAIN ${sql}`, params);
	// Without a condition and without an order that has to be made, reading ends with the last row that is wanted.
	const isAnyFirst = rows.length === 1 && !/where|filesort|temporary/i.test(String(rows[0]?.Extra));
	const limit = isAnyFirst && /limit \?$/.test(sql) ? Number(params.at(-1)) : Infinity;
	return rows.flatMap((row) =>
		row.table === null || row.type === null
			? []
			: [
					{
						table: String(row.table),
						rows: Math.min(limit, Number(row.rows ?? 0)),
						isByKey: row.key !== null && row.type !== 'index' && row.type !== 'ALL'
					}
				]
	);
}
