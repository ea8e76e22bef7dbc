import { fail } from '@sveltejs/kit';
import { readWindow, record } from '$server/http/read-window';
import { releaseBoard } from '$server/reads/desk/releases';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { saveReleases, type ReleaseWish } from '$server/usecases/access/save-releases';
import { agreedTo, readForm } from '$server/http/parse';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals: { app }, url }) => releaseBoard(app, url);

export const actions: Actions = {
	save: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const { zone } = await app.site();
		const raw = parsed(form.get('changes'));
		const wishes: ReleaseWish[] = [];
		const notes: string[] = [];
		for (const [id, value] of Object.entries(raw)) {
			const { isRemoved, ...window } = record(value);
			if (isRemoved === true) {
				wishes.push({ target: { kind: 'resource', id }, window: null });
				continue;
			}
			const read = readWindow(window, zone);
			if (!read.ok) return fail(400, { problem: read.message, problemAt: id });
			notes.push(...read.notes);
			// "At once, never" is a release of its own here: it keeps a wider one from counting.
			wishes.push({
				target: { kind: 'resource', id },
				window: read.value ?? { opens: { kind: 'at-once' }, closes: { kind: 'never' } }
			});
		}
		if (wishes.length === 0) return fail(400, { problem: 'Nothing was changed.', problemAt: '' });
		const saved = await saveReleases(app, viewer, String(form.get('plan') ?? ''), wishes, agreedTo(form));
		if (saved.kind === 'refused')
			return fail(409, {
				problem: 'The plan or an item does not exist any more. Load the page again.',
				problemAt: ''
			});
		if (saved.kind === 'rehearsed')
			return fail(409, { rehearsal: await rehearsalView(app, saved.rehearsal) });
		return { saved: ['Saved. It counts from now on.', ...notes].join(' ') };
	}
};

function parsed(value: FormDataEntryValue | null): Record<string, unknown> {
	try {
		return record(JSON.parse(String(value ?? '{}')));
	} catch {
		return {};
	}
}
