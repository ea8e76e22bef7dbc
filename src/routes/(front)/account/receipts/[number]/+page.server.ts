import { error, redirect } from '@sveltejs/kit';
import { receiptByNumber } from '$server/db/queries/sales';
import { NO_SUCH_PAGE } from '$server/http/denial';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	const receipt = await receiptByNumber(app.db, params.number);
	if (!receipt || (receipt.memberId !== viewer.id && !viewer.permissions.has('sales')))
		error(404, NO_SUCH_PAGE);
	const { number, kind, amountMinor, currency, content, issuedAt } = receipt;
	return { receipt: { number, kind, amountMinor, currency, content, issuedAt } };
};
