import { plainAmount } from '$core/billing/money';
import { WHYS } from '$core/measure/recurring';
import { csv } from '$server/http/csv';
import { askedOf, incomePage } from '$server/reads/desk/insight';
import type { RequestHandler } from './$types';

/** The sheet with a month a row. */
export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const asked = await askedOf(app, url);
	const { currency } = asked;
	const plain = (minor: number) => plainAmount({ minor, currency });
	return csv(`income-${asked.span.from}-${asked.span.to}`, [
		['month', 'currency', 'beginning', ...WHYS, 'end', 'agreements', 'part that went'],
		...(await incomePage(app, asked)).months.map(({ month, start, moved, end, left }) => [
			...[month, currency, plain(start.minor), ...WHYS.map((why) => plain(moved[why].minor))],
			...[plain(end.minor), String(end.count), left === null ? '' : left.toFixed(4)]
		])
	]);
};
