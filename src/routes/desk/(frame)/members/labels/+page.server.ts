import { fail } from '@sveltejs/kit';
import { fieldError, parse, readForm } from '$server/http/parse';
import { tooLate } from '$server/http/too-late';
import { labelsPage } from '$server/reads/desk/members';
import { memberLabelOf, removeMemberLabel, renameMemberLabel } from '$server/usecases/accounts/member-labels';
import { LabelForm } from '../form';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app }, depends }) => {
	depends('desk:members');
	return { labels: await labelsPage(app) };
};

export const actions: Actions = {
	make: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(LabelForm, await readForm(request));
		if (!parsed.ok) return fail(400, parsed);
		await memberLabelOf(app, viewer, parsed.data.name.trim());
		return { saved: 'It is there. Choose members in their list, and label them.' };
	},
	rename: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const labelId = String(form.get('id') ?? '');
		const parsed = await parse(LabelForm, form);
		if (!parsed.ok) return fail(400, { ...parsed, labelId });
		const renamed = await renameMemberLabel(app, viewer, labelId, parsed.data.name.trim());
		if (renamed.ok) return { saved: 'Renamed.' };
		if (renamed.code === 'unknown') return tooLate();
		return fail(409, { ...fieldError(form, 'name', 'Another label is called so.'), labelId });
	},
	remove: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const removed = await removeMemberLabel(app, viewer, String(form.get('id') ?? ''));
		if (removed.ok) return { saved: 'It is gone, and nobody has it any more.' };
		if (removed.code === 'unknown') return tooLate();
		const fences = removed.fences.map((name) => `“${name}”`).join(', ');
		return fail(409, fieldError(form, '', `${fences} let in whoever has it. Take it out there first.`));
	}
};
