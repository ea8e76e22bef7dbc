import { fail, redirect } from '@sveltejs/kit';
import { accountView } from '$server/reads/front/account-view';
import { askForCard } from '$server/usecases/sales/change-card';
import { pauseAgreement, resumeAgreement } from '$server/usecases/sales/steer-agreement';
import { changeOwnGift, type ChangedGift } from '$server/usecases/sales/change-gift';
import { fieldError, parse, readForm } from '$server/http/parse';
import type { FrontKey } from '$words/en/front';
import type { Actions, PageServerLoad } from './$types';
import { GiftForm } from './form';

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
	'stays',
	'gift-sent',
	'gift-kept'
] as const;
function isSaid(text: string): text is (typeof SAID)[number] {
	return (SAID as readonly string[]).includes(text);
}

const GIFT_PROBLEMS: Record<Exclude<ChangedGift, { ok: true }>['code'], FrontKey> = {
	unknown: 'account.gift-unknown',
	open: 'account.gift-is-open',
	'given-back': 'account.gift-given-back',
	own: 'checkout.gift-own',
	'too-many': 'account.gift-too-many'
};

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
	gift: async ({ locals: { app, viewer }, request }) => {
		if (!viewer) redirect(303, '/sign-in?next=/account');
		const form = await readForm(request);
		const gift = String(form.get('gift') ?? '');
		const parsed = await parse(GiftForm, form);
		if (!parsed.ok) return fail(400, { gift, errors: parsed.errors, values: parsed.values });
		const changed = await changeOwnGift(app, viewer.id, { giftId: gift, email: parsed.data.giftEmail });
		if (!changed.ok)
			return fail(409, { gift, ...fieldError(form, 'giftEmail', GIFT_PROBLEMS[changed.code]) });
		redirect(303, `/account?said=${changed.told ? 'gift-sent' : 'gift-kept'}`);
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
