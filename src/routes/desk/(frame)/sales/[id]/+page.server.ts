import { error, fail } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { parse, readForm } from '$server/http/parse';
import { orderPage } from '$server/reads/desk/sales';
import { refundPayment } from '$server/usecases/sales/refund-payment';
import type { Actions, PageServerLoad } from './$types';
import { RefundForm } from './form';

const PROBLEMS = {
	unknown: 'This payment is not known to the processor.',
	'not-captured': 'This payment is not paid, or was refunded already.'
};

export const load: PageServerLoad = async ({ locals: { app }, params }) => {
	const page = await orderPage(app, params.id);
	if (!page) error(404, NO_SUCH_PAGE);
	return page;
};

export const actions: Actions = {
	refund: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(RefundForm, await readForm(request));
		if (!parsed.ok) return fail(400, { problem: Object.values(parsed.errors).flat()[0] ?? '' });
		const refunded = await refundPayment(app, viewer, parsed.data.payment, parsed.data.why);
		if (!refunded.ok) return fail(409, { problem: PROBLEMS[refunded.code] });
		return { saved: 'The payment was refunded.' };
	}
};
