import { fail } from '@sveltejs/kit';
import { IsIn, IsNotEmpty, IsUUID, MaxLength } from 'class-validator';
import { agreedTo, parse, readForm } from '$server/http/parse';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { siteMap } from '$server/reads/front/site-map';
import { makeLabel, removeLabel, renameLabel, type LabelKind } from '$server/usecases/library/labels';
import type { Actions, PageServerLoad } from './$types';

class LabelForm {
	@IsIn(['category', 'tag'], { message: 'Choose a category or a tag.' })
	kind = 'category' as LabelKind;

	@MaxLength(120, { message: 'A name has at most 120 characters.' })
	@IsNotEmpty({ message: 'Give it a name.' })
	name = '';
}

class KnownLabelForm extends LabelForm {
	@IsUUID('all', { message: 'It does not exist any more.' })
	id = '';
}

/** Lists that a stranger may know of. */
export const load: PageServerLoad = async ({ locals: { app } }) => ({
	listed: (await siteMap(app)).filter((path) => /^\/(?:categories|tags)\//.test(path))
});

export const actions: Actions = {
	make: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(LabelForm, await readForm(request));
		if (!parsed.ok) return fail(400, parsed);
		await makeLabel(app, viewer, parsed.data.kind, parsed.data.name);
		return { saved: `${parsed.data.name} is there.` };
	},
	rename: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(KnownLabelForm, await readForm(request));
		if (!parsed.ok) return fail(400, parsed);
		await renameLabel(app, viewer, parsed.data.kind, parsed.data.id, parsed.data.name);
		return { saved: 'Renamed. Its address stays.' };
	},
	remove: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const kind = form.get('kind') === 'tag' ? 'tag' : 'category';
		const id = String(form.get('id') ?? '');
		const removed = await removeLabel(app, viewer, kind, id, agreedTo(form));
		if (removed.kind === 'rehearsed')
			return fail(409, { removing: { kind, id, rehearsal: await rehearsalView(app, removed.rehearsal) } });
		return { saved: 'Removed.' };
	}
};
