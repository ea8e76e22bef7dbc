import { error, fail, redirect } from '@sveltejs/kit';
import { codeIn } from '$server/http/code-in';
import { ownPath } from '$server/http/cookies';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { currenciesShown, planPage } from '$server/reads/front/shop';
import { fieldError, parse, readForm } from '$server/http/parse';
import { askToWait, endWaiting } from '$server/usecases/sales/waiting-list';
import type { Actions, PageServerLoad } from './$types';
import { WaitingForm } from './form';

export const load: PageServerLoad = async ({ locals: { app, look }, params, url }) => {
	const code = codeIn(url);
	const next = ownPath(url.searchParams.get('next'), '') || null;
	const page = await planPage(app, look, params.slug, { next, code });
	if (!page) error(404, NO_SUCH_PAGE);
	// Nothing of it goes to whoever it is not for.
	if (page.isForOthers) {
		const sold = { kind: 'not' as const };
		const none = { offer: undefined, items: [], waiting: null, money: null };
		return { ...none, isForOthers: true, sold, slug: params.slug, next: url.pathname, code };
	}
	const money = await currenciesShown(app, look, params.slug);
	return { ...page, money, slug: params.slug, next: url.pathname, code };
};

const PROBLEMS = { unknown: 'wait.unknown', sold: 'wait.unknown', 'too-many': 'wait.too-many' };

export const actions: Actions = {
	wait: async ({ locals: { app, viewer }, params, request, getClientAddress }) => {
		const form = await readForm(request);
		const typed = viewer ? { ok: true as const, data: { email: '' } } : await parse(WaitingForm, form);
		if (!typed.ok) return fail(400, typed);
		const asked = await askToWait(app, {
			...{ planSlug: params.slug, memberId: viewer?.id ?? null },
			...{ email: typed.data.email, client: getClientAddress() }
		});
		const here = `/plans/${encodeURIComponent(params.slug)}`;
		// It can be bought by now: its page sells it.
		if (!asked.ok && asked.code === 'sold') redirect(303, here);
		if (!asked.ok)
			return fail(asked.code === 'too-many' ? 429 : 409, fieldError(form, 'email', PROBLEMS[asked.code]));
		return asked.how === 'mailed' ? { mailed: viewer?.email ?? typed.data.email.trim() } : { waits: true };
	},
	leave: async ({ locals: { app, viewer }, params }) => {
		if (viewer) await endWaiting(app, params.slug, viewer.id);
		return { waits: false };
	}
};
