import { fail } from '@sveltejs/kit';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { changeMany, unpreparedOf, type BulkWish } from '$server/usecases/library/write-many';
import { givePlanItems, takePlanItems } from '$server/usecases/access/give-plan-items';
import { agreedTo, readForm } from '$server/http/parse';
import type { Actions } from './$types';

const BULK_PROBLEMS = {
	'unknown-item': 'One of them does not exist any more. Load the page again.',
	'needs-home': 'cannot stand alone: it needs a course, a section or a show to live in.',
	'wrong-home': 'cannot live there. Nothing was moved.',
	'home-within-itself': 'would live in itself. Nothing was moved.'
};

const PROBLEMS = {
	'unknown-plan': 'This plan does not exist any more.',
	'nothing-to-take': 'Nothing to take: this plan reaches them by another fence. Open an item to see which.'
};

const PLAN_RUNS = { give: givePlanItems, take: takePlanItems };
const PLAN_WORDS = {
	give: 'The plan opens them from now on.',
	take: 'The plan does not open them any more.'
};

/** Ids of those that are chosen, in one field: there may be thousands. */
function chosenIn(form: FormData): string[] {
	const ids = String(form.get('items') ?? '').split(',');
	return ids.filter((id) => id !== '');
}

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
		const form = await readForm(request);
		const items = chosenIn(form);
		const did = String(form.get('do') ?? '');
		const kept = { did, action: '/desk/library?/change' };
		const wish = bulkWish(form);
		if (items.length === 0 || !wish)
			return fail(400, { bulk: { problem: 'Choose items, and what is to become of them.', ...kept } });
		if (wish.state === 'published') {
			const unprepared = await unpreparedOf(app, items);
			if (unprepared.length > 0)
				return fail(409, { bulk: { problem: `Not prepared yet: ${unprepared.join(', ')}.`, ...kept } });
		}
		const done = await changeMany(app, viewer, items, wish, agreedTo(form));
		if (done.kind === 'refused') {
			const words = BULK_PROBLEMS[done.code];
			return fail(409, { bulk: { problem: 'title' in done ? `“${done.title}” ${words}` : words, ...kept } });
		}
		if (done.kind === 'rehearsed')
			return fail(409, { bulk: { rehearsal: await rehearsalView(app, done.rehearsal), ...kept } });
		return {
			bulk: { saved: done.count === 1 ? 'One item changed.' : `${done.count} items changed.`, ...kept }
		};
	},
	plan: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const items = chosenIn(form);
		const did = String(form.get('do') ?? '');
		const kept = { did, action: '/desk/library?/plan' };
		if (items.length === 0 || !Object.hasOwn(PLAN_RUNS, did))
			return fail(400, { bulk: { problem: 'Choose items, and what is to become of them.', ...kept } });
		const run = PLAN_RUNS[did as keyof typeof PLAN_RUNS];
		const done = await run(app, viewer, String(form.get('plan') ?? ''), items, agreedTo(form));
		if (done.kind === 'refused') return fail(409, { bulk: { problem: PROBLEMS[done.code], ...kept } });
		if (done.kind === 'rehearsed')
			return fail(409, { bulk: { rehearsal: await rehearsalView(app, done.rehearsal), ...kept } });
		return { bulk: { saved: PLAN_WORDS[did as keyof typeof PLAN_WORDS], ...kept } };
	}
};
