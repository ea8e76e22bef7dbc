import { csv } from '$server/http/csv';
import { readForm } from '$server/http/parse';
import { batchPaths, codesOfBatches } from '$server/reads/desk/codes';
import { idsIn } from '../ids';
import type { RequestHandler } from './$types';

/** All codes of the batches that were chosen. */
export const POST: RequestHandler = async ({ locals: { app }, request }) => {
	const found = await codesOfBatches(app, idsIn(await readForm(request)));
	const paths = await batchPaths(app);
	const rows = found.map(({ batch, batchId, code, uses }) => [
		batch,
		code,
		String(uses),
		`${app.settings.origin}${paths.get(batchId) ?? '/code'}?code=${code}`
	]);
	return csv('codes', [['name', 'code', 'used', 'link'], ...rows]);
};
