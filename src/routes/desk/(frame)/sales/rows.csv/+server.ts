import { plainAmount } from '$core/billing/money';
import { csv } from '$server/http/csv';
import { salesAsk, salesAsTable } from '$server/reads/desk/sales';
import type { RequestHandler } from './$types';

/** What the list shows, as a table: one row for each payment. */
export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const rows = await salesAsTable(app, salesAsk(url));
	return csv('sales', [
		['date', 'order', 'member', 'payment', 'paid by', 'amount', 'refunded', 'currency', 'state'],
		...rows.map(({ at, number, name, period, processor, amountMinor, refundedMinor, currency, standing }) => [
			...[new Date(at).toISOString(), number, name ?? '', String(period + 1), processor],
			...[plainAmount({ minor: amountMinor, currency }), plainAmount({ minor: refundedMinor, currency })],
			...[currency, standing]
		])
	]);
};
