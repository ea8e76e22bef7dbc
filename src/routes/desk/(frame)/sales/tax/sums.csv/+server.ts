import { plainAmount } from '$core/billing/money';
import { percentOf } from '$core/billing/tax';
import { csv } from '$server/http/csv';
import { taxReport, yearAsked } from '$server/reads/desk/tax-report';
import type { RequestHandler } from './$types';

/** The report as a table: one row for each quarter, country, rate and currency. */
export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const { year, quarters } = await taxReport(app, await yearAsked(app, url.searchParams.get('year')));
	const rows = quarters.flatMap(({ quarter, rows: of }) => of.map((row) => ({ quarter, ...row })));
	return csv(`tax-${year}`, [
		['quarter', 'country', 'tax', 'rate', 'owed by', 'net', 'tax amount', 'currency', 'documents'],
		...rows.map(({ quarter, country, name, rate, kind, netMinor, taxMinor, currency, documents }) => [
			...[`${year}-Q${quarter}`, country, name, String(percentOf(rate)), OWED_BY[kind]],
			...[plainAmount({ minor: netMinor, currency }), plainAmount({ minor: taxMinor, currency })],
			...[currency, String(documents)]
		])
	]);
};

const OWED_BY = { taxed: 'seller', reversed: 'buyer' };
