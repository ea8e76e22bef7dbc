import { plainAmount } from '$core/billing/money';
import { csv } from '$server/http/csv';
import { askedOf, outcomesPage } from '$server/reads/desk/insight';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const asked = await askedOf(app, url);
	const { currency } = asked;
	const { stretches, declined } = await outcomesPage(app, asked);
	const rows = (what: string, months: typeof stretches) =>
		months.map(({ month, begun, won, lost, open, wonMinor }) => [
			...[what, month, String(begun), String(won), String(lost), String(open)],
			...[plainAmount({ minor: wonMinor, currency }), currency]
		]);
	return csv(`outcomes-${asked.span.from}-${asked.span.to}`, [
		['what', 'month', 'began', 'paid after', 'not paid', 'open', 'worth', 'currency'],
		...rows('first stretch', stretches),
		...rows('declined card', declined)
	]);
};
