import { error, fail, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { giftPage } from '$server/reads/front/gifts';
import { askForLink } from '$server/usecases/accounts/sign-in-link';
import { landingPath } from '$server/usecases/sales/landing';
import { openGift, type OpenedGift } from '$server/usecases/sales/open-gift';
import type { FrontKey } from '$words/en/front';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer, look }, params, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	const page = await giftPage(app, look, viewer.id, params.id);
	if (page.kind === 'opened') {
		const { planId } = page;
		redirect(303, await landingPath(app, { memberId: viewer.id, planId, next: null }));
	}
	return { gift: page };
};

const PROBLEMS: Record<Exclude<Exclude<OpenedGift, { ok: true }>['code'], 'unknown'>, FrontKey> = {
	'given-back': 'gift.given-back',
	'has-plan': 'gift.has-plan',
	over: 'gift.over'
};

export const actions: Actions = {
	/** Whoever has not shown that the mailbox is theirs does so by coming back from it. */
	link: async ({ locals: { app, viewer }, params, getClientAddress }) => {
		const path = `/gifts/${params.id}`;
		if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(path)}`);
		const asked = await askForLink(app, { email: viewer.email, next: path, client: getClientAddress() });
		return asked.ok ? { isMailed: true } : fail(429, { problem: 'sign-in.too-many' as FrontKey });
	},
	open: async ({ locals: { app, viewer }, params }) => {
		if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(`/gifts/${params.id}`)}`);
		const opened = await openGift(app, viewer.id, params.id);
		if (opened.ok)
			redirect(303, await landingPath(app, { memberId: viewer.id, planId: opened.planId, next: null }));
		if (opened.code === 'unknown') error(404, NO_SUCH_PAGE);
		return fail(409, { problem: PROBLEMS[opened.code] });
	}
};
