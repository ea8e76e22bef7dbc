import { plainAmount } from '$core/billing/money';
import { csv } from '$server/http/csv';
import { ordersAsTable } from '$server/reads/desk/sales-lists';
import type { RequestHandler } from './$types';

/** What the list shows, as a table: one row for each order. */
export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const rows = await ordersAsTable(app, url);
	return csv('orders', [
		['date', 'order', 'member', 'for', 'plan', 'paid by', 'total', 'currency', 'state'],
		...rows.map(({ at, number, name, text, plan, processor, totalMinor, currency, state }) => [
			...[new Date(at).toISOString(), number, name, text, plan ?? '', processor],
			...[plainAmount({ minor: totalMinor, currency }), currency, state]
		])
	]);
};
