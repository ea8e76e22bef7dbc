import { fail } from '@sveltejs/kit';
import { COLUMNS } from '$core/library/table';
import { groupedProblems } from '$core/text/columns';
import { counted } from '$server/http/progress';
import { importWords, tableWords } from '$server/http/import-words';
import { bringingIn } from '$server/reads/desk/bringing-in';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { decideRefused, inboxView } from '$server/usecases/library/inbox';
import { importTable, tryTable } from '$server/usecases/library/import-table';
import { queueTakeIn, referToAddress } from '$server/usecases/library/take-in';
import { agreedTo, readForm } from '$server/http/parse';
import { tableIn } from '$server/http/taken';
import { tooLate } from '$server/http/too-late';
import type { Actions, PageServerLoad } from './$types';

const LINES_SHOWN = 12;
const ROWS_SHOWN = 200;

export const load: PageServerLoad = async ({ locals: { app }, url }) => {
	const prefix = url.searchParams.get('prefix') ?? '';
	const { inboxFolder, bucket } = app.settings;
	return {
		inbox: inboxFolder === null ? null : await inboxView(inboxFolder),
		bucketName: bucket?.name ?? null,
		prefix,
		...(await bringingIn(app, prefix, url.searchParams.get('from')))
	};
};

export const actions: Actions = {
	refused: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const isAgain = form.get('do') === 'again';
		const { inboxFolder } = app.settings;
		if (!inboxFolder) return tooLate();
		const decided = await decideRefused(viewer, inboxFolder, String(form.get('name') ?? ''), isAgain);
		if (!decided.ok) return tooLate();
		return { saved: isAgain ? 'It is looked at again.' : 'It is thrown away.' };
	},
	take: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const keys = form.getAll('keys').map(String);
		if (keys.length === 0) return fail(400, { errors: { keys: ['Choose at least one object.'] } });
		await queueTakeIn(app, viewer, keys, {
			isCopied: form.get('how') !== 'refer',
			homeId: String(form.get('home') ?? '') || null
		});
		return { saved: keys.length === 1 ? 'It is taken in.' : `${keys.length} objects are taken in.` };
	},
	refer: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const url = String(form.get('url') ?? '').trim();
		const referred = await referToAddress(app, viewer, {
			url,
			title: String(form.get('title') ?? ''),
			homeId: null
		});
		if (!referred.ok) return fail(400, { url, errors: { url: [referred.message] } });
		return { saved: 'It stands in the Library as a draft.', itemId: referred.itemId };
	},
	table: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const { csv, taken } = await tableIn(form, COLUMNS);
		const counting = counted(form.get('progress'));
		const tried = await tryTable(app, csv, taken, counting);
		if (!tried.ok)
			return fail(400, { errors: { file: [tableWords(tried)] }, columns: { csv, all: tried.columns } });
		const groups = groupedProblems(tried.problems).map(({ first, lines }) => ({
			words: importWords(first),
			lines: lines.slice(0, LINES_SHOWN),
			count: lines.length
		}));
		const { columns, newShelves, newLabels } = tried;
		const count = (does: 'adds' | 'changes') => tried.rows.filter((row) => row.does === does).length;
		const trial = {
			...{ adds: count('adds'), changes: count('changes'), rows: tried.rows.slice(0, ROWS_SHOWN) },
			...{ newShelves, newLabels, groups, wrong: new Set(tried.problems.map(({ line }) => line)).size }
		};
		const kept = { trial, columns: { csv, all: columns } };
		if (form.get('do') !== 'write' && !form.has('agreedTo')) return kept;
		const done = await importTable(app, viewer, csv, agreedTo(form), taken, counting);
		if (done.kind === 'refused') return fail(409, kept);
		if (done.kind === 'rehearsed')
			return fail(409, { ...kept, rehearsal: await rehearsalView(app, done.rehearsal) });
		return { saved: done.count === 1 ? 'One item was written.' : `${done.count} items were written.` };
	}
};
