import { fail } from '@sveltejs/kit';
import { agreedTo, fieldError, readForm } from '$server/http/parse';
import { deskNames } from '$server/reads/desk/names';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { beginCharging } from '$server/usecases/plans/begin-charging';
import { parseCharging } from './form';
import type { Actions, PageServerLoad } from './$types';

/** What is named in the address is chosen first: the page of an item leads here. */
export const load: PageServerLoad = async ({ locals: { app }, url }) => {
	const id = url.searchParams.get('item') ?? '';
	const { resources } = await deskNames(app);
	const known = resources[id];
	return { begunWith: known ? [{ id, title: known.title, kind: known.kind }] : [] };
};

const PROBLEMS = {
	'unknown-plan': ['plan', 'This plan does not exist any more. Choose another.'],
	'nothing-open': ['chosen', 'Nothing of it is open to everybody now: it is closed already.'],
	'code-taken': ['code', 'There is such a code already. Choose another.'],
	'ends-before-it-begins': ['until', 'That is over already.']
} satisfies Record<string, [field: string, message: string]>;

export const actions: Actions = {
	default: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parseCharging(form, (await app.site()).zone);
		if (!parsed.ok) return fail(400, parsed);
		const done = await beginCharging(app, viewer, parsed.wish, agreedTo(form));
		switch (done.kind) {
			case 'saved': {
				const { keptId, batchId, count } = done;
				return { done: { keptId, batchId, planId: parsed.wish.planId, count } };
			}
			case 'refused':
				return fail(409, fieldError(form, ...PROBLEMS[done.code]));
			case 'still-open': {
				const { resources, fences } = await deskNames(app);
				return fail(409, {
					...fieldError(form, '', ''),
					errors: {},
					stillOpen: done.places.map(({ id, fenceIds }) => ({
						...{ id, title: resources[id]?.title ?? 'Something' },
						fences: fenceIds.map((fenceId) => ({ id: fenceId, name: fences[fenceId] ?? 'A fence' }))
					}))
				});
			}
			case 'rehearsed': {
				const { count, invited } = done;
				return fail(409, {
					...fieldError(form, '', ''),
					errors: {},
					rehearsal: await rehearsalView(app, done.rehearsal),
					besides: { count, invited }
				});
			}
		}
	}
};
