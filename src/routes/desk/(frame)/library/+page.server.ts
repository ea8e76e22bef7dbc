import { fail } from '@sveltejs/kit';
import { agreedTo, rehearsalView } from '$server/http/rehearsal-view';
import { changeMany, unpreparedOf, type BulkWish } from '$server/usecases/library/write-many';
import { givePlanItems, takePlanItems } from '$server/usecases/access/give-plan-items';
import type { Actions } from './$types';

const BULK_PROBLEMS = {
	'unknown-item': 'One of them does not exist any more. Load the page again.'
};

const PROBLEMS = {
	'unknown-plan': 'This plan does not exist any more.',
	'nothing-to-take': 'Nothing to take: this plan reaches them by another fence. Open an item to see which.'
};

/** What is chosen beside the button that was pressed. */
function bulkWish(form: FormData): BulkWish | null {
	const value = (name: string) => String(form.get(name) ?? '');
	switch (form.get('do')) {
		case 'move':
			return { homeId: value('home') || null };
		case 'category':
			return { categoryId: value('category') || null };
		case 'tag':
			return value('tag') ? { addTagId: value('tag') } : null;
		case 'untag':
			return value('tag') ? { removeTagId: value('tag') } : null;
		case 'archive':
			return { state: 'archived' };
		case 'draft':
			return { state: 'draft' };
		case 'publish':
			return { state: 'published' };
		default:
			return null;
	}
}

export const actions: Actions = {
	change: async ({ locals: { app, viewer }, request }) => {
		const form = await request.formData();
		const items = form.getAll('items').map(String);
		const did = String(form.get('do') ?? '');
		const kept = {
			did,
			values: {
				home: String(form.get('home') ?? ''),
				category: String(form.get('category') ?? ''),
				tag: String(form.get('tag') ?? '')
			}
		};
		const wish = bulkWish(form);
		if (items.length === 0 || !wish)
			return fail(400, { bulk: { problem: 'Choose items, and what is to become of them.', ...kept } });
		if (wish.state === 'published') {
			const unprepared = await unpreparedOf(app, items);
			if (unprepared.length > 0)
				return fail(409, { bulk: { problem: `Not prepared yet: ${unprepared.join(', ')}.`, ...kept } });
		}
		const done = await changeMany(app, viewer, items, wish, agreedTo(form));
		if (done.kind === 'refused') return fail(409, { bulk: { problem: BULK_PROBLEMS[done.code], ...kept } });
		if (done.kind === 'rehearsed')
			return fail(409, { bulk: { rehearsal: await rehearsalView(app, done.rehearsal), ...kept } });
		return {
			bulk: { saved: done.count === 1 ? 'One item changed.' : `${done.count} items changed.`, ...kept }
		};
	},
	plan: async ({ locals: { app, viewer }, request }) => {
		const form = await request.formData();
		const items = form.getAll('items').map(String);
		const did = form.get('do') === 'take' ? 'take' : 'give';
		if (items.length === 0) return fail(400, { bulk: { problem: 'Choose at least one item.', did } });
		const run = did === 'take' ? takePlanItems : givePlanItems;
		const done = await run(app, viewer, String(form.get('plan') ?? ''), items, agreedTo(form));
		if (done.kind === 'refused') return fail(409, { bulk: { problem: PROBLEMS[done.code], did } });
		if (done.kind === 'rehearsed')
			return fail(409, { bulk: { rehearsal: await rehearsalView(app, done.rehearsal), did } });
		return { bulk: { saved: 'Saved. It counts from now on.', did } };
	}
};
