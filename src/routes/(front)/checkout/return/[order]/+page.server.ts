import { error, redirect } from '@sveltejs/kit';
import { knownDevice } from '$server/http/cookies';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { frontError } from '$server/http/front-error';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, cookies }) => {
	const returned = await settleReturn(app, params.order, knownDevice(cookies), viewer?.id ?? null);
	if (!returned) error(404, frontError('error.other-device'));
	if (returned.state === 'declined' || returned.state === 'expired') {
		const next = returned.next ? `&next=${encodeURIComponent(returned.next)}` : '';
		const why = returned.state === 'declined' ? 'declined' : 'ended';
		redirect(303, `/checkout/${returned.planSlug}?${why}${next}`);
	}
	if (returned.state !== 'pending') redirect(303, `/thanks/${params.order}`);
	return { payUrl: returned.payUrl, planSlug: returned.planSlug };
};
