import { fail, redirect } from '@sveltejs/kit';
import { accountView } from '$server/reads/front/account-view';
import { askForCard } from '$server/usecases/sales/change-card';
import { pauseAgreement, resumeAgreement } from '$server/usecases/sales/steer-agreement';
import { readForm } from '$server/http/parse';
import type { FrontKey } from '$words/en/front';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer, look }, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	const said = url.searchParams.get('said') ?? '';
	return { ...(await accountView(app, look, viewer.id)), said: isSaid(said) ? said : null };
};

/** What the ways back from the processor have to say. */
const SAID = [
	'paid',
	'card',
	'no-card',
	'declined',
	'ended',
	'waits',
	'nothing',
	'moved',
	'moves',
	'stays'
] as const;
function isSaid(text: string): text is (typeof SAID)[number] {
	return (SAID as readonly string[]).includes(text);
}

export const actions: Actions = {
	card: async ({ locals: { app, viewer }, request }) => {
		if (!viewer) redirect(303, '/sign-in?next=/account');
		const id = String((await readForm(request)).get('agreement') ?? '');
		const asked = await askForCard(app, viewer.id, id).catch((problem: unknown) => {
			app.log.warn({ err: problem }, 'no page to keep a card on');
			return null;
		});
		if (!asked) return fail(503, { problem: 'checkout.unreachable' satisfies FrontKey });
		redirect(303, asked.ok ? asked.payUrl : '/account');
	},
	wake: async ({ locals: { app, viewer }, request }) => {
		if (!viewer) redirect(303, '/sign-in?next=/account');
		const id = String((await readForm(request)).get('subscription') ?? '');
		const woken = await pauseAgreement(app, viewer.id, id, 'wake');
		if (!woken.ok) app.log.info({ code: woken.code }, 'a pause was not taken back');
		redirect(303, '/account');
	},
	resume: async ({ locals: { app, viewer }, request }) => {
		if (!viewer) redirect(303, '/sign-in?next=/account');
		const id = String((await readForm(request)).get('subscription') ?? '');
		const resumed = await resumeAgreement(app, viewer.id, id);
		// Ended or gone on meanwhile: the page says how it stands.
		if (!resumed.ok) app.log.info({ code: resumed.code }, 'a cancellation was not taken back');
		redirect(303, '/account');
	}
};
