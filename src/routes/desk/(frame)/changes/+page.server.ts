import { fail, redirect } from '@sveltejs/kit';
import { agreedTo, readForm } from '$server/http/parse';
import { accessChanges } from '$server/reads/desk/changes';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { changeAgreedTo, takeBack, whyNotTakenBack } from '$server/usecases/access/take-back';
import { notTakenBackWords } from '$ui/wording/changes';
import type { Actions, PageServerLoad } from './$types';

const numbered = (text: string | null) => (text !== null && /^\d{1,12}$/.test(text) ? Number(text) : null);

/** `?version=…` is one that somebody thinks of taking back; `?agreed=…` the one that a rehearsal was said yes to for. */
export const load: PageServerLoad = async ({ locals: { app }, url }) => {
	const agreed = url.searchParams.get('agreed');
	if (agreed) {
		const version = await changeAgreedTo(app, agreed);
		redirect(303, version === null ? '/desk/changes' : `/desk/changes?version=${version}`);
	}
	const version = numbered(url.searchParams.get('version'));
	const asked = numbered(url.searchParams.get('before'));
	const newest = await accessChanges(app, asked);
	// What is older than the newest stands at the head of those that came before it.
	const isShown = version === null || newest.changes.some((one) => one.version === version);
	const before = isShown ? asked : version + 1;
	const list = isShown ? newest : await accessChanges(app, before);
	const why = version === null ? null : await whyNotTakenBack(app, version);
	return { ...list, version, before, whyNot: why && notTakenBackWords(why) };
};

export const actions: Actions = {
	default: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const version = numbered(String(form.get('version') ?? ''));
		if (version === null) return fail(400, { problem: 'Choose what is to be taken back.' });
		const done = await takeBack(app, viewer, version, agreedTo(form));
		switch (done.kind) {
			case 'saved':
				return { saved: 'Taken back. It stands at the top of the list, as a change of its own.' };
			case 'rehearsed':
				return { rehearsal: await rehearsalView(app, done.rehearsal) };
			case 'refused':
				return fail(409, { problem: notTakenBackWords(done.code) });
		}
	}
};
