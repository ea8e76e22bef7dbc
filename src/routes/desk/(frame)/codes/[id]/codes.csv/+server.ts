import { csv } from '$server/http/csv';
import { codesOf } from '$server/reads/desk/codes';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ locals: { app }, params }) => {
	const rows = (await codesOf(app, params.id)).map(({ code, uses }) => [
		code,
		String(uses),
		`${app.settings.origin}/code?code=${code}`
	]);
	return csv('codes', [['code', 'redeemed', 'link'], ...rows]);
};
