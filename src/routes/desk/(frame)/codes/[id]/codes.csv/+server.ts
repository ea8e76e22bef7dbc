import { csv } from '$server/http/csv';
import { batchPath, codesOf } from '$server/reads/desk/codes';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ locals: { app }, params }) => {
	const path = await batchPath(app, params.id);
	const rows = (await codesOf(app, params.id)).map(({ code, uses }) => [
		code,
		String(uses),
		`${app.settings.origin}${path}?code=${code}`
	]);
	return csv('codes', [['code', 'used', 'link'], ...rows]);
};
