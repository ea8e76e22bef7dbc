import { fail } from '@sveltejs/kit';
import { importWords, tableWords } from '$server/http/import-words';
import { bringingIn } from '$server/reads/desk/bringing-in';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { decideRefused, inboxView } from '$server/usecases/library/inbox';
import { importTable, tryTable } from '$server/usecases/library/import-table';
import { queueTakeIn, referToAddress } from '$server/usecases/library/take-in';
import { agreedTo, readForm } from '$server/http/parse';
import { tooLate } from '$server/http/too-late';
import type { Actions, PageServerLoad } from './$types';

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
		const file = form.get('file');
		const csv = file instanceof File && file.size > 0 ? await file.text() : String(form.get('csv') ?? '');
		const tried = await tryTable(app, csv);
		if (!tried.ok) return fail(400, { errors: { file: [tableWords(tried)] } });
		const problems = tried.problems.map((one) => ({ line: one.line, words: importWords(one) }));
		const { rows, unknownColumns, newShelves, newLabels } = tried;
		const trial = { rows, unknownColumns, newShelves, newLabels, problems, csv };
		if (form.get('do') !== 'write' && !form.has('agreedTo')) return { trial };
		const done = await importTable(app, viewer, csv, agreedTo(form));
		if (done.kind === 'refused') return fail(409, { trial });
		if (done.kind === 'rehearsed')
			return fail(409, { trial, rehearsal: await rehearsalView(app, done.rehearsal) });
		return { saved: done.count === 1 ? 'One item was written.' : `${done.count} items were written.` };
	}
};
