import { fail, redirect } from '@sveltejs/kit';
import { normaliseCode } from '$core/access/batches';
import { markCodeDevice, ownPath } from '$server/http/cookies';
import { fieldError, parse, readForm } from '$server/http/parse';
import { redeemCode } from '$server/usecases/codes/codes';
import { landingPath } from '$server/usecases/sales/landing';
import type { Actions, PageServerLoad } from './$types';
import { CodeForm } from './form';

const PROBLEMS = {
	unknown: 'code.unknown',
	'too-early': 'code.too-early',
	over: 'code.over',
	'used-up': 'code.used-up',
	'too-many': 'code.too-many'
} as const;

/** A link may carry its code; opening the link only fills it in, so that mail scanners use nothing up. */
export const load: PageServerLoad = ({ url }) => ({
	code: (url.searchParams.get('code') ?? '').slice(0, 60),
	next: ownPath(url.searchParams.get('next'), '')
});

export const actions: Actions = {
	default: async ({ locals: { app, look }, request, cookies, getClientAddress }) => {
		const form = await readForm(request);
		const parsed = await parse(CodeForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const next = ownPath(String(form.get('next') ?? ''), '');
		const who = look.memberId
			? { memberId: look.memberId }
			: { deviceHash: markCodeDevice(cookies, app.settings.origin) };
		const redeemed = await redeemCode(app, who, parsed.data.code, getClientAddress());
		if (!redeemed.ok) {
			// It is used where one buys.
			if (redeemed.code === 'takes-off')
				redirect(303, `/plans?code=${encodeURIComponent(normaliseCode(parsed.data.code))}`);
			if (redeemed.code !== 'sign-in-first')
				return fail(
					redeemed.code === 'too-many' ? 429 : 409,
					fieldError(form, 'code', PROBLEMS[redeemed.code])
				);
			const back = `/code?code=${encodeURIComponent(parsed.data.code)}${next ? `&next=${encodeURIComponent(next)}` : ''}`;
			redirect(303, `/sign-in?next=${encodeURIComponent(back)}`);
		}
		const { planId } = redeemed;
		const given =
			planId !== null && look.memberId !== null ? { memberId: look.memberId, planId, next: null } : null;
		redirect(303, next || (given ? await landingPath(app, given) : '/'));
	}
};
