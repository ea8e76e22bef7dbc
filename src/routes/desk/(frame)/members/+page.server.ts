import { fail, redirect } from '@sveltejs/kit';
import { agreedTo, fieldError, parse, readForm } from '$server/http/parse';
import { membersPage } from '$server/reads/desk/members';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { besidesWords } from '$server/http/many-words';
import { readDate } from '$server/http/read-window';
import { memberLabelOf } from '$server/usecases/accounts/member-labels';
import { MOST_MEMBERS, MOST_PAYING, runMany, type ManyWish } from '$server/usecases/accounts/run-many';
import { addMember } from '$server/usecases/accounts/run-members';
import type { Actions, PageServerLoad } from './$types';
import { memberAsk } from './ask';
import { membersIn } from './chosen';
import { AddForm, RunForm } from './form';

export const load: PageServerLoad = async ({ locals: { app }, url, depends }) => {
	depends('desk:members');
	return membersPage(app, memberAsk(url, (await app.site()).zone));
};

const RUN_PROBLEMS = {
	'unknown-plan': 'This is not there any more. Load the page again.',
	'ends-before-it-begins': 'It would end before it begins. Choose a later end, or none.',
	'too-many': `At most ${MOST_MEMBERS.toLocaleString('en')} members at once, and of those that pay by and by at most ${MOST_PAYING}. Choose fewer.`
};

const RUN_WORDS: Record<RunForm['do'], [one: string, many: string, none: string]> = {
	give: ['got it', 'got it', 'All of them hold it already.'],
	end: ['lost it', 'lost it', 'None of them holds it.'],
	label: ['is labelled', 'are labelled', 'All of them have it already.'],
	'new-label': ['is labelled', 'are labelled', 'All of them have it already.'],
	unlabel: ['is without it', 'are without it', 'None of them has it.']
};

export const actions: Actions = {
	add: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(AddForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { email, name, plan, until } = parsed.data;
		const end = until === '' ? null : readDate(until, (await app.site()).zone);
		if (end && !end.ok) return fail(400, fieldError(form, 'until', end.message));
		if (end && end.value.at <= app.clock.business())
			return fail(400, fieldError(form, 'until', 'This lies in the past. Choose a later date, or none.'));
		const added = await addMember(app, viewer, {
			email,
			name,
			planId: plan || null,
			until: end?.value.at ?? null
		});
		if (!added.ok)
			return fail(
				409,
				fieldError(form, 'email', 'Somebody with this address is here already. Find them below.')
			);
		redirect(303, `/desk/members/${added.memberId}`);
	},
	run: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const kept = { did: String(form.get('do') ?? ''), action: '/desk/members?/run' };
		const parsed = await parse(RunForm, form);
		const problem = (words: string) => fail(400, { bulk: { problem: words, ...kept } });
		if (!parsed.ok) return problem(Object.values(parsed.errors)[0]?.[0] ?? 'This cannot be read.');
		const members = await membersIn(app, form);
		if (members.length === 0) return problem('Choose members, and what is to become of them.');
		const { do: did, plan, label, newLabel, until } = parsed.data;
		const end = until === '' ? null : readDate(until, (await app.site()).zone);
		if (end && !end.ok) return problem(end.message);
		// A rehearsal's yes comes back with the name: the label is there by then.
		const labelId = did === 'new-label' ? await memberLabelOf(app, viewer, newLabel.trim()) : label;
		const wishes: Record<RunForm['do'], ManyWish> = {
			give: { kind: 'give', planId: plan, until: end?.value.at ?? null },
			end: { kind: 'end', planId: plan },
			label: { kind: 'give', planId: labelId, until: null },
			'new-label': { kind: 'give', planId: labelId, until: null },
			unlabel: { kind: 'end', planId: labelId }
		};
		const done = await runMany(app, viewer, members, wishes[did], agreedTo(form));
		if (done.kind === 'refused') return fail(409, { bulk: { problem: RUN_PROBLEMS[done.code], ...kept } });
		if (done.kind === 'rehearsed') {
			const besides = besidesWords(done);
			return fail(409, { bulk: { rehearsal: await rehearsalView(app, done.rehearsal), besides, ...kept } });
		}
		const [one, many, none] = RUN_WORDS[did];
		const saved = done.count === 0 ? none : done.count === 1 ? `One ${one}.` : `${done.count} ${many}.`;
		return { bulk: { saved, ...kept } };
	}
};
