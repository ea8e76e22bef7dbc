import { fail, redirect, type RequestEvent } from '@sveltejs/kit';
import { clearHalf, halfToken, ownPath, rememberDevice } from '$server/http/cookies';
import { letIn } from '$server/http/let-in';
import { fieldError, parse, readForm } from '$server/http/parse';
import { finishSignIn, isHalfIn } from '$server/usecases/accounts/admit';
import { afterSignIn } from '$server/usecases/sales/landing';
import type { Actions, PageServerLoad } from './$types';
import { CodeForm } from './form';

const PROBLEMS = { wrong: 'second.wrong-spend', 'too-many': 'second.too-many' } as const;

export const load: PageServerLoad = async (event) => {
	const { app } = event.locals;
	const token = halfToken(event.cookies, app);
	if (token === null || !(await isHalfIn(app, token))) redirect(303, signInPage(event));
	return { next: nextOf(event) };
};

export const actions: Actions = {
	code: async (event) => {
		const { locals, cookies, request } = event;
		const { app } = locals;
		const form = await readForm(request);
		const token = halfToken(cookies, app);
		if (token === null) redirect(303, signInPage(event));
		const parsed = await parse(CodeForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const done = await finishSignIn(app, token, parsed.data.code, event.getClientAddress());
		if (!done.ok) {
			if (done.code === 'gone')
				return fail(410, { ...fieldError(form, 'code', 'second.gone'), isGone: true });
			return fail(done.code === 'wrong' ? 400 : 429, fieldError(form, 'code', PROBLEMS[done.code]));
		}
		const next = nextOf(event);
		letIn(cookies, app, { kind: 'in', session: done.session }, next);
		if (done.begunBy === 'password') rememberDevice(cookies, app, done.accountId);
		const isStaff = done.role !== 'member';
		redirect(303, await afterSignIn(app, { memberId: done.accountId, isStaff, next }));
	},
	other: (event) => {
		clearHalf(event.cookies, event.locals.app);
		redirect(303, signInPage(event));
	}
};

function nextOf({ url }: Pick<RequestEvent, 'url'>): string {
	return ownPath(url.searchParams.get('next'), '');
}

function signInPage(event: Pick<RequestEvent, 'url'>): string {
	const next = nextOf(event);
	return next === '' ? '/sign-in' : `/sign-in?next=${encodeURIComponent(next)}`;
}
