import { error, fail, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { fencePage } from '$server/reads/desk/fences';
import { namesIn } from '$server/reads/desk/names';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { removeFence } from '$server/usecases/fences/save-fence';
import { agreedTo, readForm } from '$server/http/parse';
import { saveFromEditor } from '../save';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app }, params, url, parent }) => {
	const page = await fencePage(app, params.id, url);
	if (!page) error(404, NO_SUCH_PAGE);
	// The editor speaks of whatever may be chosen in it, too.
	const { choices } = await parent();
	return { ...page, known: await namesIn(app, [page, choices]) };
};

export const actions: Actions = {
	save: async ({ locals, request, params }) => {
		const saved = await saveFromEditor(locals, request, params.id);
		if (!saved.ok) return saved.failure;
		return { saved: ['Saved. It counts from now on.', ...saved.notes].join(' ') };
	},
	remove: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const removed = await removeFence(app, viewer, params.id, agreedTo(form));
		if (removed.kind === 'rehearsed')
			return fail(409, { removal: await rehearsalView(app, removed.rehearsal) });
		redirect(303, '/desk/fences');
	}
};
