import { fail } from '@sveltejs/kit';
import { MEMBER_COLUMNS } from '$core/members/table';
import { groupedProblems } from '$core/text/columns';
import { memberRowWords, membersTableWords } from '$server/http/member-import-words';
import { agreedTo, readForm } from '$server/http/parse';
import { counted } from '$server/http/progress';
import { tableIn } from '$server/http/taken';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { importMembers, tryMembers } from '$server/usecases/accounts/import-members';
import type { Actions } from './$types';

const LINES_SHOWN = 12;
const ROWS_SHOWN = 200;

export const actions: Actions = {
	table: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const { csv, taken } = await tableIn(form, MEMBER_COLUMNS);
		const invites = form.get('invites') === 'yes';
		const counting = counted(form.get('progress'));
		const tried = await tryMembers(app, { csv, taken, invites }, counting);
		if (!tried.ok)
			return fail(400, {
				errors: { file: [membersTableWords(tried)] },
				columns: { csv, all: tried.columns },
				invites
			});
		const groups = groupedProblems(tried.problems).map(({ first, lines }) => ({
			words: memberRowWords(first),
			lines: lines.slice(0, LINES_SHOWN),
			count: lines.length
		}));
		const count = (does: 'adds' | 'changes' | 'leaves') =>
			tried.rows.filter((row) => row.does === does).length;
		const trial = {
			...{ adds: count('adds'), changes: count('changes'), leaves: count('leaves') },
			...{ rows: tried.rows.slice(0, ROWS_SHOWN), total: tried.rows.length },
			...{ plans: tried.plans, labels: tried.labels, groups },
			wrong: new Set(tried.problems.map(({ line }) => line)).size
		};
		const kept = { trial, columns: { csv, all: tried.columns }, invites };
		if (form.get('do') !== 'write' && !form.has('agreedTo')) return kept;
		const done = await importMembers(app, viewer, { csv, taken, invites }, agreedTo(form), counting);
		switch (done.kind) {
			case 'refused':
				return fail(409, kept);
			case 'rehearsed':
				return fail(409, {
					...kept,
					unproved: done.unproved,
					rehearsal: await rehearsalView(app, done.rehearsal)
				});
			case 'saved':
				return {
					saved: `${done.added === 1 ? 'One member was' : `${done.added} members were`} added, and ${done.changed === 1 ? 'one was' : `${done.changed} were`} given something.`
				};
		}
	}
};
