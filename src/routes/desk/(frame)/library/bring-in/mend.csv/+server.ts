import { COLUMNS } from '$core/library/table';
import { csv } from '$server/http/csv';
import { importWords } from '$server/http/import-words';
import { readForm } from '$server/http/parse';
import { takenIn } from '$server/http/taken';
import { tableToMend } from '$server/usecases/library/import-table';
import type { RequestHandler } from './$types';

/** The rows of a table that will not do, each with what is wrong. */
export const POST: RequestHandler = async ({ locals: { app }, request }) => {
	const form = await readForm(request);
	return csv(
		'rows-to-mend',
		await tableToMend(app, String(form.get('csv') ?? ''), takenIn(form, COLUMNS), importWords)
	);
};
