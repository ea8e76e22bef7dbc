import { csv } from '$server/http/csv';
import { askedOf, staysPage } from '$server/reads/desk/insight';
import type { RequestHandler } from './$types';

/** A row for each month of joining and each month after it. */
export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const asked = await askedOf(app, url);
	const { months } = await staysPage(app, asked);
	return csv(`stays-${asked.span.from}-${asked.span.to}`, [
		['came in', 'currency', 'how many', 'months after', 'still pay'],
		...months.flatMap(({ month, joined, staying }) =>
			staying.map((count, after) => [month, asked.currency, String(joined), String(after), String(count)])
		)
	]);
};
