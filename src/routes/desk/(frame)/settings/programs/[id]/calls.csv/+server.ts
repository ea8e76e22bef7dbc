import { csv } from '$server/http/csv';
import { callTable } from '$server/reads/desk/listeners';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ locals: { app }, params }) => {
	const rows = (await callTable(app, params.id)).map(({ at, event, state, about }) => [
		...[at, event, about.name, about.email, about.plan, about.list],
		...[about.order, about.total, about.sentTo, state]
	]);
	return csv('told', [
		['at', 'event', 'name', 'email', 'plan', 'mailing list', 'order', 'total', 'sent to', 'state'],
		...rows
	]);
};
