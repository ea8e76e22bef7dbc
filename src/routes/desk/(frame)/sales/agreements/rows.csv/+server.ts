import { plainAmount } from '$core/billing/money';
import { csv } from '$server/http/csv';
import { agreementsAsTable } from '$server/reads/desk/sales-lists';
import type { RequestHandler } from './$types';

/** What the list shows, as a table: one row for each subscription, or purchase in instalments. */
export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const rows = await agreementsAsTable(app, url);
	const day = (at: number | null) => (at === null ? '' : new Date(at).toISOString());
	return csv('subscriptions', [
		[
			'began',
			'order',
			'member',
			'plan',
			'payments',
			'paid by',
			'state',
			'paid until',
			'next',
			'amount',
			'currency'
		],
		...rows.map(
			({ at, number, name, plan, payments, processor, state, paidThrough, nextAt, nextMinor, currency }) => [
				...[day(at), number, name, plan ?? '', payments === null ? '' : String(payments), processor, state],
				...[day(paidThrough), day(nextAt)],
				...[nextMinor === null ? '' : plainAmount({ minor: nextMinor, currency }), currency]
			]
		)
	]);
};
