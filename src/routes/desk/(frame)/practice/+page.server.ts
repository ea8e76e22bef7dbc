import { fail, redirect } from '@sveltejs/kit';
import { endPractice, markPractice, ownPath } from '$server/http/cookies';
import { fieldError, parse, readForm } from '$server/http/parse';
import { placesToBegin, practiceDoings, practiceFacts, practisedMail } from '$server/reads/desk/practice';
import {
	bankInPractice,
	beginPractice,
	deletePractice,
	NoPracticeBook
} from '$server/usecases/practice/practise';
import { advanceClock } from '$server/usecases/running/advance-clock';
import type { Actions, PageServerLoad } from './$types';
import { ClockForm } from '../settings/form';
import { BankForm } from './form';

const DAY_MS = 86_400_000;
const CLOCK_PROBLEMS = {
	'not-movable': 'This clock cannot be moved.',
	'only-forward': 'It only goes forward: type at least 1 day.',
	'too-far': 'At most 370 days at once.'
};

export const load: PageServerLoad = async ({ locals: { app, practice, site }, url, depends }) => {
	depends('desk:practice');
	const book = await practice.openIfThere();
	return {
		facts: await practiceFacts(book),
		places: await placesToBegin(site),
		begin: ownPath(url.searchParams.get('begin'), '/plans'),
		doings: app.isPractice ? await practiceDoings(app) : null,
		mail: app.isPractice ? await practisedMail(app, url.searchParams.get('mail')) : null
	};
};

export const actions: Actions = {
	begin: async ({ locals: { practice, site, viewer }, request, cookies }) => {
		const form = await readForm(request);
		const next = ownPath(String(form.get('next') ?? ''), '/plans');
		try {
			const { app } = await practice.open();
			await beginPractice(site, app, viewer);
		} catch (error) {
			if (!(error instanceof NoPracticeBook)) throw error;
			return fail(503, {
				problem: `The practice book is a database of its own, ${error.database}, which the database’s user may not make. Whoever runs the database can let them (docs/operations.md, Practising).`
			});
		}
		markPractice(cookies, site.settings.origin);
		redirect(303, next);
	},
	leave: async ({ locals: { site }, cookies }) => {
		endPractice(cookies, site.settings.origin);
		redirect(303, '/desk/practice');
	},
	move: async ({ locals: { app, runner, viewer }, request }) => {
		const form = await readForm(request);
		if (!app.isPractice) return fail(409, { problem: NOT_PRACTISING });
		const parsed = await parse(ClockForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const to = app.clock.business() + Number(parsed.data.days) * DAY_MS;
		const moved = await advanceClock(app, runner, viewer, to);
		if (!moved.ok) return fail(409, fieldError(form, 'days', CLOCK_PROBLEMS[moved.code]));
		return { movedTo: moved.now, jobs: moved.jobs };
	},
	bank: async ({ locals: { app, viewer }, request }) => {
		if (!app.isPractice) return fail(409, { problem: NOT_PRACTISING });
		const parsed = await parse(BankForm, await readForm(request));
		if (!parsed.ok) return fail(400, { problem: Object.values(parsed.errors).flat()[0] ?? '' });
		const { ref, deed } = parsed.data;
		if (!(await bankInPractice(app, viewer, ref, deed)))
			return fail(409, { problem: 'That was done already, or nothing is left of this payment.' });
		return { isDone: true };
	},
	empty: async ({ locals: { practice, site, viewer }, cookies }) => {
		const book = await practice.openIfThere();
		if (!book) return { emptied: { buyers: 0, orders: 0 } };
		const emptied = await deletePractice(site, book.app, viewer);
		// Nobody whom they made up is left to be.
		endPractice(cookies, site.settings.origin);
		return { emptied };
	}
};

const NOT_PRACTISING = 'You have left practice in another tab. Begin again, and go on.';
