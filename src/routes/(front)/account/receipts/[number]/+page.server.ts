import { error, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { receiptOf } from '$server/reads/front/shop';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	const receipt = await receiptOf(app, params.number);
	if (!receipt || (receipt.memberId !== viewer.id && !viewer.permissions.has('sales')))
		error(404, NO_SUCH_PAGE);
	const { number, kind, amountMinor, currency, content, issuedAt } = receipt;
	return { receipt: { number, kind, amountMinor, currency, content, issuedAt } };
};
