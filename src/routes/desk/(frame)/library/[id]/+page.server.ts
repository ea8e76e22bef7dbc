import { error, fail } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { agreedTo, begunWith, fieldError, parse, readForm } from '$server/http/parse';
import { itemPage } from '$server/reads/desk/items';
import { namesIn } from '$server/reads/desk/names';
import { readDate } from '$server/http/read-window';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { FIRST_ROWS, outlineOf } from '$server/reads/desk/outline';
import { CURRENCIES } from '$core/billing/money';
import { HOLDERS } from '$core/library/homes';
import { changeOutline } from '../outline-form';
import { dependentsOf } from '$server/usecases/library/dependents';
import { cancelPreparation, saveCover } from '$server/usecases/library/edit-media';
import { editItem, itemRevision, prepareAgain, setState, textOf } from '$server/usecases/library/edit-item';
import { giveUpComing, showAlso, showComing, showNothing } from '$server/usecases/library/placements';
import { ITEM_PROBLEMS, ItemForm, contentProblem, wishOf } from '../item-form';
import { sellAlone } from '$server/usecases/plans/sell-alone';
import { parseAlone } from '../sell-form';
import { tooLate } from '$server/http/too-late';
import type { Actions, PageServerLoad } from './$types';

const SAID = {
	published: 'Published.',
	draft: 'Taken back to a draft.',
	archived: 'Archived: nobody but staff can open it, and nothing is lost.',
	scheduled: 'It will be published by itself.'
} as const;

const PLACEMENT_PROBLEMS = {
	unknown: 'This item does not exist any more.',
	'shows-nothing': 'That item shows no film, recording or file. Choose another.',
	'cannot-show': 'This kind of item shows nothing beside itself.'
} as const;

const SELL_PROBLEMS = {
	'unknown-item': 'This item does not exist any more.',
	'is-sold': 'It is sold alone already. Load the page again.',
	'no-page': 'It has no address of its own at which it could be offered.'
} as const;

export const load: PageServerLoad = async ({ locals: { app }, params, url, depends }) => {
	depends('desk:library');
	const page = await itemPage(app, params.id, url);
	if (!page) error(404, NO_SUCH_PAGE);
	const { item, tagIds } = page;
	const shown = {
		...page,
		text: textOf(item),
		revision: itemRevision(item, tagIds),
		currencies: CURRENCIES,
		dependents: await dependentsOf(app, item),
		outline: HOLDERS.has(item.kind) ? await outlineOf(app, item.id, FIRST_ROWS) : null
	};
	return { ...shown, known: await namesIn(app, shown) };
};

export const actions: Actions = {
	outline: changeOutline,
	save: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const parsed = await parse(ItemForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const wrong = contentProblem(parsed.data);
		if (wrong) return fail(400, fieldError(form, ...wrong));
		const edited = await editItem(
			app,
			viewer,
			params.id,
			wishOf(parsed.data),
			agreedTo(form),
			begunWith(form)
		);
		if (edited.kind === 'changed') {
			const { title, address, base } = edited.theirs;
			const theirs = {
				revision: edited.revision,
				words: `“${title}”${address ? ` at ${address}` : ''}, ${base} by itself.`
			};
			return fail(409, { ...fieldError(form, '', ''), errors: {}, theirs });
		}
		if (edited.kind === 'refused') return fail(409, fieldError(form, ...ITEM_PROBLEMS[edited.code]));
		if (edited.kind === 'rehearsed')
			return fail(409, {
				...fieldError(form, '', ''),
				errors: {},
				rehearsal: await rehearsalView(app, edited.rehearsal)
			});
		return { saved: 'Saved.' };
	},
	state: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const to =
			(['published', 'draft', 'archived', 'scheduled'] as const).find((one) => one === form.get('to')) ??
			'draft';
		let publishAt: number | null = null;
		if (to === 'scheduled') {
			const read = readDate(form.get('publishAt'), (await app.site()).zone);
			if (!read.ok) return fail(400, fieldError(form, 'publishAt', read.message));
			publishAt = read.value.at;
		}
		const moved = await setState(app, viewer, params.id, { state: to, publishAt }, agreedTo(form));
		if (moved.kind === 'refused') return fail(409, fieldError(form, ...ITEM_PROBLEMS[moved.code]));
		if (moved.kind === 'rehearsed')
			return fail(409, {
				wanted: to,
				publishAt: String(form.get('publishAt') ?? ''),
				stateRehearsal: await rehearsalView(app, moved.rehearsal)
			});
		return { saved: SAID[to] };
	},
	stopPreparing: async ({ locals: { app, viewer }, params }) => {
		if (!(await cancelPreparation(app, viewer, params.id)).ok) return tooLate();
		return { saved: 'Stopped.' };
	},
	showAlso: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const fromItemId = String(form.get('from') ?? '');
		const agreed = String(form.get('agreed') ?? '') || null;
		const placed = await showAlso(app, viewer, { itemId: params.id, fromItemId, agreedTo: agreed });
		if (placed.ok) return { saved: 'It is shown here, too.' };
		if (placed.code === 'opens-wider')
			return fail(409, {
				wider: { fromItemId, to: placed.to, yes: placed.yes },
				known: await namesIn(app, [fromItemId, placed.to])
			});
		return fail(409, { errors: { from: [PLACEMENT_PROBLEMS[placed.code]] } });
	},
	showNothing: async ({ locals: { app, viewer }, params }) => {
		if (!(await showNothing(app, viewer, params.id)).ok) return tooLate();
		return { saved: 'Nothing is shown here any more. What was shown stays in the Library.' };
	},
	showComing: async ({ locals: { app, viewer }, request, params }) => {
		const shown = await showComing(app, viewer, params.id, agreedTo(await readForm(request)));
		switch (shown.kind) {
			case 'saved':
				return { saved: 'It is shown now.' };
			case 'rehearsed':
				return fail(409, { comingRehearsal: await rehearsalView(app, shown.rehearsal) });
			case 'refused':
				return fail(409, { errors: { from: ['It is not there any more. Load the page again.'] } });
		}
	},
	giveUp: async ({ locals: { app, viewer }, params }) => {
		await giveUpComing(app, viewer, params.id);
		return { saved: 'What is there stays.' };
	},
	sell: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const parsed = await parseAlone(form);
		if (!parsed.ok) return fail(400, { alone: { errors: parsed.errors, values: parsed.values } });
		const sold = await sellAlone(app, viewer, params.id, parsed.wish, agreedTo(form));
		if (sold.kind === 'saved') return { saved: 'It is sold alone from now on.' };
		const { values } = fieldError(form, '', '');
		if (sold.kind === 'rehearsed')
			return fail(409, {
				alone: { errors: {}, values, rehearsal: await rehearsalView(app, sold.rehearsal) }
			});
		return fail(409, { alone: { errors: { aloneAmount: [SELL_PROBLEMS[sold.code]] }, values } });
	},
	uncover: async ({ locals: { app, viewer }, params }) => {
		if (!(await saveCover(app, viewer, params.id, null)).ok) return tooLate();
		return { saved: 'The picture is taken away.' };
	},
	again: async ({ locals: { app, viewer }, params }) => {
		if (!(await prepareAgain(app, viewer, params.id)).ok) return tooLate();
		return { saved: 'It is prepared again.' };
	}
};
