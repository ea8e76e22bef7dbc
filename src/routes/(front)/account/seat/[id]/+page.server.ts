import { error, fail, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { seatPage } from '$server/reads/front/seats';
import { askForLink } from '$server/usecases/accounts/sign-in-link';
import { landingPath } from '$server/usecases/sales/landing';
import { takeSeat } from '$server/usecases/sales/seats';
import type { FrontKey } from '$words/en/front';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	const page = await seatPage(app, viewer.id, params.id);
	if (page.kind === 'taken')
		redirect(303, await landingPath(app, { memberId: viewer.id, planId: page.planId, next: null }));
	return { seat: page };
};

export const actions: Actions = {
	/** Whoever has not shown that the mailbox is theirs does so by coming back from it. */
	link: async ({ locals: { app, viewer }, params, getClientAddress }) => {
		const path = `/account/seat/${params.id}`;
		if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(path)}`);
		const asked = await askForLink(app, { email: viewer.email, next: path, client: getClientAddress() });
		return asked.ok ? { isMailed: true } : fail(429, { problem: 'sign-in.too-many' as FrontKey });
	},
	take: async ({ locals: { app, viewer }, params }) => {
		if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(`/account/seat/${params.id}`)}`);
		const took = await takeSeat(app, viewer.id, params.id);
		if (took.ok)
			redirect(303, await landingPath(app, { memberId: viewer.id, planId: took.planId, next: null }));
		if (took.code === 'unknown') error(404, NO_SUCH_PAGE);
		return fail(409, { problem: 'seat.shut' as FrontKey });
	}
};
