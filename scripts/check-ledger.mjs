/** `npm run check:ledger`: whether the books hold, of the database that STILE_DATABASE_URL names, or else of the running demo. */
import process from 'node:process';
import { createConnection } from 'mysql2/promise';
import { ledgerFaults } from './lib/ledger.mjs';
import { runningDemo } from './lib/signed-in.mjs';
import { main, Problem } from './lib/steps.mjs';

const SHOWN = 20;

await main(async () => {
	const connection = await createConnection(process.env.STILE_DATABASE_URL ?? runningDemo().database);
	try {
		const faults = await ledgerFaults(connection);
		const [[counted]] = await connection.query('select count(*) as entries from ledger_entries');
		for (const { fault, id } of faults.slice(0, SHOWN)) console.log(`  ${fault}: ${id}`);
		const figures = { entries: Number(counted.entries), faults: faults.length };
		console.log(JSON.stringify({ check: 'ledger', figures }));
		if (faults.length > 0) throw new Problem('The books do not hold: what is wrong stands above.');
	} finally {
		await connection.end();
	}
});
