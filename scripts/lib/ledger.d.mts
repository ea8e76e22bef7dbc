export function ledgerFaults(connection: {
	query(sql: string): Promise<[unknown, unknown]>;
}): Promise<{ fault: string; id: string }[]>;
