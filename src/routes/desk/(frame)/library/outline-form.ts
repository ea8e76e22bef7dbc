/** What the outline of a collection sends: one change at a time. */
import { fail, type RequestEvent } from '@sveltejs/kit';
import { IsIn, IsNotEmpty, IsUUID, MaxLength, ValidateIf } from 'class-validator';
import { RESOURCE_KINDS, type ResourceKind } from '$core/access/model';
import { agreedTo, parse, readForm } from '$server/http/parse';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { createItem } from '$server/usecases/library/edit-item';
import { moveItem, renameItem } from '$server/usecases/library/outline';
import { ITEM_PROBLEMS, ItemForm, wishOf } from './item-form';

export class OutlineForm {
	@IsIn(['add', 'rename', 'move'], { message: 'This page is old. Load it again.' })
	do = '' as 'add' | 'rename' | 'move';

	/** Of what is there already. */
	@ValidateIf((form: OutlineForm) => form.do !== 'add')
	@IsUUID('all', { message: 'This page is old. Load it again.' })
	id = '';

	@ValidateIf((form: OutlineForm) => form.do === 'add')
	@IsIn(RESOURCE_KINDS, { message: 'Choose what it is.' })
	kind = '' as ResourceKind;

	@ValidateIf((form: OutlineForm) => form.do !== 'move')
	@MaxLength(200, { message: 'A title has at most 200 characters.' })
	@IsNotEmpty({ message: 'Give it a title.' })
	title = '';

	@ValidateIf((form: OutlineForm) => form.do !== 'rename')
	@IsUUID('all', { message: 'This page is old. Load it again.' })
	home = '';

	/** What it comes after there; empty: nothing. */
	@ValidateIf((form: OutlineForm) => form.after !== '')
	@IsUUID('all', { message: 'This page is old. Load it again.' })
	after = '';
}

/** Answers with what was made, the rehearsal that asks for a yes, or what is wrong. */
export async function changeOutline({ locals: { app, viewer }, request }: RequestEvent) {
	const form = await readForm(request);
	const parsed = await parse(OutlineForm, form);
	if (!parsed.ok) return fail(400, { problem: Object.values(parsed.errors)[0]?.[0] ?? '' });
	const { id, kind, title, home, after } = parsed.data;
	switch (parsed.data.do) {
		case 'add': {
			const wish = Object.assign(new ItemForm(), { kind, title, home });
			const made = await createItem(app, viewer, { ...wishOf(wish), after: after || null });
			if (made.kind === 'saved') return { id: made.itemId };
			const code = made.kind === 'refused' ? made.code : 'unknown';
			return fail(409, { problem: ITEM_PROBLEMS[code][1] });
		}
		case 'rename': {
			const renamed = await renameItem(app, viewer, id, title);
			return renamed.ok ? { id } : fail(409, { problem: ITEM_PROBLEMS[renamed.code][1] });
		}
		case 'move': {
			const moved = await moveItem(app, viewer, id, { homeId: home, after: after || null }, agreedTo(form));
			if (moved.kind === 'refused') return fail(409, { problem: ITEM_PROBLEMS[moved.code][1] });
			if (moved.kind === 'saved') return { id };
			return fail(409, { rehearsal: await rehearsalView(app, moved.rehearsal) });
		}
	}
}
