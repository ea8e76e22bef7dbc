import { error, fail } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { begunWith, readForm } from '$server/http/parse';
import { listenerPage, tellablePlans } from '$server/reads/desk/listeners';
import { revisionOf } from '$server/revision';
import {
	changeListener,
	editableListener,
	endListener,
	renewSecret
} from '$server/usecases/running/listeners';
import { callAgain, callNow, letGo, tryListener } from '$server/usecases/running/tell-listeners';
import { listenWords } from '$ui/wording/calls';
import type { Actions, PageServerLoad } from './$types';
import { listenerProblem, readListener } from '../listener';

export const load: PageServerLoad = async ({ locals: { app }, params, url }) => {
	const page = await listenerPage(app, params.id, url);
	if (!page) error(404, NO_SUCH_PAGE);
	const kept = await editableListener(app, params.id);
	return { ...page, kept, revision: kept && revisionOf(kept), plans: await tellablePlans(app) };
};

const GONE = {
	problem: 'There is nothing of it to do any more: somebody was quicker, or the program was ended.'
};

export const actions: Actions = {
	save: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const read = await readListener(form);
		if (!read.ok) return fail(400, read);
		const saved = await changeListener(app, viewer, params.id, read.wish, begunWith(form));
		switch (saved.kind) {
			case 'saved':
				return { isSaved: true };
			case 'unknown':
				return fail(409, GONE);
			case 'refused':
				return fail(400, listenerProblem(form, saved.code));
			case 'changed': {
				const { name, url, events } = saved.theirs;
				const words = `${name}, ${url === '' ? 'kept as a table' : `called at ${url}`}: ${listenWords(events)}.`;
				const theirs = { revision: revisionOf(saved.theirs), words };
				return fail(409, { ...listenerProblem(form, 'nothing-to-tell'), errors: {}, theirs });
			}
		}
	},
	secret: async ({ locals: { app, viewer }, params }) => {
		const secret = await renewSecret(app, viewer, params.id);
		return secret === null ? fail(409, GONE) : { secret };
	},
	try: async ({ locals: { app, viewer }, params }) => {
		const tried = await tryListener(app, viewer, params.id);
		return tried.ok
			? { said: 'The trial call is on its way; what it answers stands below.' }
			: fail(409, GONE);
	},
	now: async ({ locals: { app, viewer }, params }) => {
		const called = await callNow(app, viewer, params.id);
		return called.ok ? { said: 'It is called now.' } : fail(409, GONE);
	},
	again: async ({ locals: { app, viewer }, request, params }) => {
		const callId = String((await readForm(request)).get('call') ?? '');
		const which = callId === '' ? ('all-refused' as const) : { callId };
		const again = await callAgain(app, viewer, params.id, which);
		return again.ok ? { said: 'It is sent again.' } : fail(409, GONE);
	},
	letGo: async ({ locals: { app, viewer }, params }) => {
		const gone = await letGo(app, viewer, params.id);
		return gone.ok ? { said: 'They are let go.' } : fail(409, GONE);
	},
	end: async ({ locals: { app, viewer }, params }) => {
		const ended = await endListener(app, viewer, params.id);
		return ended.ok ? { said: 'It is told nothing any more.' } : fail(409, GONE);
	}
};
