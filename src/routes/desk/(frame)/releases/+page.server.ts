import { fail } from '@sveltejs/kit';
import { releaseBoard } from '$server/reads/desk/releases';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { saveReleases } from '$server/usecases/access/save-releases';
import { agreedTo, readForm } from '$server/http/parse';
import { boardAsk, WINDOW } from './ask';
import { readWishes, writtenWishes } from './wishes';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals: { app }, url, depends }) => {
	depends('desk:library');
	return releaseBoard(app, boardAsk(url), url, WINDOW);
};

export const actions: Actions = {
	save: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const { zone } = await app.site();
		const read = readWishes(parsed(form.get('changes')), zone);
		if (!read.ok) return fail(400, { problem: read.message, problemAt: read.at });
		const { wishes, notes } = read;
		if (wishes.length === 0) return fail(400, { problem: 'Nothing was changed.', problemAt: '' });
		const saved = await saveReleases(app, viewer, String(form.get('plan') ?? ''), wishes, agreedTo(form));
		if (saved.kind === 'refused')
			return fail(409, {
				problem: 'The plan or an item does not exist any more. Load the page again.',
				problemAt: ''
			});
		if (saved.kind === 'rehearsed')
			return fail(409, { rehearsal: await rehearsalView(app, saved.rehearsal) });
		return { notes, undo: writtenWishes(saved.before, zone) };
	}
};

function parsed(value: FormDataEntryValue | null): unknown {
	try {
		return JSON.parse(String(value ?? '{}'));
	} catch {
		return {};
	}
}
