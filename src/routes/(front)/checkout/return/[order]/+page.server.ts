import { error, redirect } from '@sveltejs/kit';
import { knownDevice } from '$server/http/cookies';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, cookies }) => {
	const returned = await settleReturn(app, params.order, knownDevice(cookies), viewer?.id ?? null);
	if (!returned)
		error(404, 'This order belongs to another device. If you have paid, the way in is in your mail.');
	if (returned.state === 'declined' || returned.state === 'expired') {
		const next = returned.next ? `&next=${encodeURIComponent(returned.next)}` : '';
		const why = returned.state === 'declined' ? 'declined' : 'ended';
		redirect(303, `/checkout/${returned.planSlug}?${why}${next}`);
	}
	if (returned.state !== 'pending') redirect(303, `/thanks/${params.order}`);
	return { payUrl: returned.payUrl, planSlug: returned.planSlug };
};
