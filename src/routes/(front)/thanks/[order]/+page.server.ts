import { error, fail, redirect } from '@sveltejs/kit';
import { frontError } from '$server/http/front-error';
import { knownDevice, setSession } from '$server/http/cookies';
import { readForm } from '$server/http/parse';
import { openFree, thank } from '$server/usecases/sales/look-at-order';
import { answerExtra, extrasAfter } from '$server/usecases/sales/take-extra';
import type { RequestEvent } from './$types';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async (event) => {
	const { locals, params, cookies } = event;
	const { app, viewer } = locals;
	const thanks = await thank(app, params.order, knownDevice(cookies), viewer?.id ?? null);
	if (!thanks) error(404, frontError('error.order-not-paid'));
	const { session, ...shown } = thanks;
	if (session) setSession(cookies, app, session);
	return { ...shown, extras: await extrasAfter(app, whoPaid(event)) };
};

function whoPaid({
	locals: { viewer },
	params,
	cookies
}: Pick<RequestEvent, 'locals' | 'params' | 'cookies'>) {
	return { orderId: params.order, device: knownDevice(cookies), memberId: viewer?.id ?? null };
}

export const actions: Actions = {
	open: async ({ locals: { app }, params, cookies }) => {
		const opened = await openFree(app, params.order, knownDevice(cookies));
		if (!opened) return { isByMail: true };
		setSession(cookies, app, opened.session);
		redirect(303, opened.landing);
	},
	extra: async (event) => {
		const { locals, request, params } = event;
		const form = await readForm(request);
		const seen = String(form.get('seen') ?? '');
		const answered = await answerExtra(locals.app, whoPaid(event), {
			extraId: String(form.get('extra') ?? ''),
			seenMinor: /^\d{1,15}$/.test(seen) ? Number(seen) : null,
			takes: form.get('takes') === 'yes'
		});
		if (!answered.ok && answered.code === 'changed') return fail(409, { extraProblem: 'extra.changed' });
		// Answered before, or over: the page shows what is.
		redirect(303, `/thanks/${params.order}`);
	}
};
