import { csv } from '$server/http/csv';
import { readForm } from '$server/http/parse';
import { membersAsTable } from '$server/reads/desk/members';
import { membersIn } from '../chosen';
import type { RequestHandler } from './$types';

/** Members as a table: those of a list, or some that were chosen of it. */
export const POST: RequestHandler = async ({ locals: { app }, request }) => {
	const members = await membersAsTable(app, await membersIn(app, await readForm(request)));
	const day = (at: number | null) => (at === null ? '' : new Date(at).toISOString());
	return csv('members', [
		['name', 'email', 'came', 'plans', 'renews', 'ends', 'labels'],
		...members.map(({ name, email, createdAt, plans, renews, endsAt, labels }) => [
			name,
			email ?? '',
			day(createdAt),
			plans ?? '',
			renews ? 'yes' : '',
			day(endsAt),
			labels ?? ''
		])
	]);
};
