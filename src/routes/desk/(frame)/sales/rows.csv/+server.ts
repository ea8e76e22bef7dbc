import { plainAmount } from '$core/billing/money';
import { csv } from '$server/http/csv';
import { paymentsAsTable } from '$server/reads/desk/sales-lists';
import type { RequestHandler } from './$types';

/** What the list shows, as a table: one row for each payment. */
export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const rows = await paymentsAsTable(app, url);
	return csv('payments', [
		['date', 'order', 'member', 'plan', 'payment', 'paid by', 'amount', 'refunded', 'currency', 'state'],
		...rows.map(
			({ at, number, name, plan, period, processor, amountMinor, refundedMinor, currency, standing }) => [
				...[new Date(at).toISOString(), number, name, plan ?? '', String(period + 1), processor],
				...[plainAmount({ minor: amountMinor, currency }), plainAmount({ minor: refundedMinor, currency })],
				...[currency, standing]
			]
		)
	]);
};
