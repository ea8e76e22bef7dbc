import { MEMBER_COLUMNS } from '$core/members/table';
import { csv } from '$server/http/csv';
import { memberRowWords } from '$server/http/member-import-words';
import { readForm } from '$server/http/parse';
import { takenIn } from '$server/http/taken';
import { membersToMend } from '$server/usecases/accounts/import-members';
import type { RequestHandler } from './$types';

/** The rows of a table that will not do, each with what is wrong. */
export const POST: RequestHandler = async ({ locals: { app }, request }) => {
	const form = await readForm(request);
	const table = { csv: String(form.get('csv') ?? ''), taken: takenIn(form, MEMBER_COLUMNS), invites: false };
	return csv('rows-to-mend', await membersToMend(app, table, memberRowWords));
};
