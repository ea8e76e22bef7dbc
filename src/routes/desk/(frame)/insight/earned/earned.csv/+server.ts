import { plainAmount } from '$core/billing/money';
import { csv } from '$server/http/csv';
import { askedOf, earnedPage, earnerAsked } from '$server/reads/desk/insight';
import type { RequestHandler } from './$types';

/** Every currency, a row each. */
export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const asked = await askedOf(app, url);
	const { by, rows } = await earnedPage(app, asked, earnerAsked(url));
	return csv(`earned-${asked.span.from}-${asked.span.to}`, [
		[by, 'currency', 'sold', 'taken off', 'refunded', 'taken by banks', 'left', 'tax'],
		...rows.map(({ name, currency, ...row }) => {
			const { soldMinor, discountMinor, refundMinor, disputedMinor, leftMinor, taxMinor } = row;
			const all = [soldMinor, discountMinor, refundMinor, disputedMinor, leftMinor, taxMinor];
			return [name, currency, ...all.map((minor) => plainAmount({ minor, currency }))];
		})
	]);
};
