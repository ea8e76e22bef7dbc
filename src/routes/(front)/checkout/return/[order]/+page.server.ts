import { error, redirect } from '@sveltejs/kit';
import { knownDevice } from '$server/http/cookies';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { frontError } from '$server/http/front-error';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, cookies }) => {
	const returned = await settleReturn(app, params.order, knownDevice(cookies), viewer?.id ?? null);
	if (!returned) error(404, frontError('error.other-device'));
	switch (returned.kind) {
		case 'paid':
		case 'by-mail':
			return redirect(303, `/thanks/${params.order}`);
		case 'declined':
		case 'ended':
		case 'refused': {
			const next = returned.next ? `&next=${encodeURIComponent(returned.next)}` : '';
			const gift = returned.isGift ? '&gift' : '';
			return redirect(303, `/checkout/${returned.planSlug}?${returned.kind}${gift}${next}`);
		}
		case 'pending':
			return { kind: returned.kind, payUrl: returned.payUrl, planSlug: returned.planSlug };
		case 'waits':
			return { kind: returned.kind, waiting: returned.waiting, how: (await app.site()).offline.how };
	}
};
