import { fail, redirect } from '@sveltejs/kit';
import { ownPath, rememberDevice, rememberedDevice } from '$server/http/cookies';
import { letIn } from '$server/http/let-in';
import { fieldError, parse, readForm } from '$server/http/parse';
import { signIn } from '$server/usecases/accounts/sign-in';
import { afterSignIn } from '$server/usecases/sales/landing';
import { askForLink, askToJoin } from '$server/usecases/accounts/sign-in-link';
import type { Actions, PageServerLoad } from './$types';
import { LinkForm, SignInForm } from './form';

const PROBLEMS = {
	wrong: 'sign-in.wrong',
	'too-many': 'sign-in.too-many',
	busy: 'sign-in.busy'
} as const;

export const load: PageServerLoad = async ({ locals: { app, viewer }, url }) => {
	const next = ownPath(url.searchParams.get('next'), '');
	if (viewer)
		redirect(
			303,
			await afterSignIn(app, { memberId: viewer.id, isStaff: viewer.permissions.size > 0, next })
		);
	return { next, finds: url.searchParams.has('find') };
};

export const actions: Actions = {
	password: async ({ locals: { app }, request, cookies, url, getClientAddress }) => {
		const form = await readForm(request);
		const parsed = await parse(SignInForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const signedIn = await signIn(app, {
			...parsed.data,
			client: getClientAddress(),
			knownDevice: rememberedDevice(cookies, app)
		});
		if (!signedIn.ok)
			return fail(
				signedIn.code === 'wrong' ? 400 : 429,
				fieldError(form, 'password', PROBLEMS[signedIn.code])
			);
		const next = ownPath(url.searchParams.get('next'), '');
		letIn(cookies, app, signedIn.admitted, next);
		rememberDevice(cookies, app, signedIn.accountId);
		const isStaff = signedIn.role !== 'member';
		redirect(303, await afterSignIn(app, { memberId: signedIn.accountId, isStaff, next }));
	},
	link: async ({ locals: { app }, request, url, getClientAddress }) => {
		const form = await readForm(request);
		const parsed = await parse(LinkForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const next = ownPath(url.searchParams.get('next'), '');
		const asked = await askForLink(app, { email: parsed.data.email, next, client: getClientAddress() });
		if (!asked.ok) return fail(429, fieldError(form, 'email', 'sign-in.too-many-links'));
		return { mailedTo: parsed.data.email };
	},
	/** A free account, or a way in to the one that there is: what is answered is the same. */
	join: async ({ locals: { app }, request, url, getClientAddress }) => {
		const form = await readForm(request);
		const parsed = await parse(LinkForm, form);
		if (!parsed.ok) return fail(400, { ...parsed, joins: true });
		const next = ownPath(url.searchParams.get('next'), '/account');
		const { email } = parsed.data;
		const asked = await askToJoin(app, { email, next, client: getClientAddress() });
		if (!asked.ok) return fail(429, { ...fieldError(form, 'email', 'sign-in.too-many-links'), joins: true });
		return { joinMailedTo: email };
	}
};
