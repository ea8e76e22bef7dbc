import { fail, redirect } from '@sveltejs/kit';
import { normaliseCode } from '$core/access/batches';
import { codeDevice, markCodeDevice, ownPath } from '$server/http/cookies';
import { fieldError, parse, readForm } from '$server/http/parse';
import { redeemCode } from '$server/usecases/codes/codes';
import type { Actions, PageServerLoad } from './$types';
import { CodeForm } from './form';

/** Where a refusal is said, and how. */
const PROBLEMS = {
	unknown: ['code', 'code.unknown'],
	'too-early': ['code', 'code.too-early'],
	over: ['code', 'code.over'],
	'used-up': ['code', 'code.used-up'],
	'too-many': ['code', 'code.too-many'],
	practice: ['code', 'code.practice'],
	'needs-address': ['email', 'code.needs-address'],
	'too-many-mails': ['email', 'sign-in.too-many-links']
} as const;

/** A link may carry its code; opening the link only fills it in, so that mail scanners use nothing up. */
export const load: PageServerLoad = ({ url, locals: { look } }) => ({
	code: (url.searchParams.get('code') ?? '').slice(0, 60),
	next: ownPath(url.searchParams.get('next'), ''),
	asksAddress: look.memberId === null
});

export const actions: Actions = {
	default: async ({ locals: { app, look }, request, cookies, getClientAddress }) => {
		const form = await readForm(request);
		const parsed = await parse(CodeForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { code, email } = parsed.data;
		const next = ownPath(String(form.get('next') ?? ''), '');
		const who = look.memberId
			? { memberId: look.memberId, deviceHash: codeDevice(cookies) }
			: { deviceHash: markCodeDevice(cookies, app.settings.origin), email };
		const redeemed = await redeemCode(app, who, { typed: code, next, client: getClientAddress() });
		if (!redeemed.ok) {
			// It is used where one buys.
			if (redeemed.code === 'takes-off')
				redirect(303, `/plans?code=${encodeURIComponent(normaliseCode(code))}`);
			const isTooMany = redeemed.code === 'too-many' || redeemed.code === 'too-many-mails';
			const [field, words] = PROBLEMS[redeemed.code];
			return fail(isTooMany ? 429 : 409, fieldError(form, field, words));
		}
		const { planId, redemptionId } = redeemed;
		// Whoever wanted one page sees that it is open.
		if (planId === null && next && email === '') redirect(303, next);
		const query = new URLSearchParams({ ...(email && { mailed: '' }), ...(next && { next }) });
		redirect(303, `/code/${redemptionId}?${query}`);
	}
};
