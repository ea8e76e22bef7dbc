import { error, fail } from '@sveltejs/kit';
import { DAILY_HOUR, kindsFor, TELL_KINDS } from '$core/staff/telling';
import { begunWith, parse, readForm } from '$server/http/parse';
import { wishesPage } from '$server/reads/desk/settings';
import { revisionOf } from '$server/revision';
import { saveWishes } from '$server/usecases/running/tell-staff';
import { HOW_WORDS, TELL_WORDS } from '$ui/wording/telling';
import type { Actions, PageServerLoad } from './$types';
import { WishesForm } from '../form';

export const load: PageServerLoad = async ({ locals: { app, viewer } }) => {
	if (!viewer) error(403);
	const kept = await wishesPage(app, viewer.id);
	return { kept, revision: revisionOf(kept), kinds: kindsFor(viewer.permissions), hour: DAILY_HOUR };
};

export const actions: Actions = {
	save: async ({ locals: { app, viewer }, request }) => {
		if (!viewer) error(403);
		const form = await readForm(request);
		const parsed = await parse(WishesForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const now = await wishesPage(app, viewer.id);
		const own = kindsFor(viewer.permissions);
		// What somebody may not see stays as it is.
		const wish = { ...now };
		for (const kind of own) wish[kind] = parsed.data[kind];
		const saved = await saveWishes(app, viewer, wish, begunWith(form));
		if (saved.kind === 'saved') return { isSaved: true };
		const words = TELL_KINDS.map((kind) => `${TELL_WORDS[kind].label}: ${HOW_WORDS[saved.theirs[kind]]}`);
		const theirs = { revision: revisionOf(saved.theirs), words: `${words.join('; ')}.` };
		return fail(409, { errors: {}, values: {}, theirs });
	}
};
