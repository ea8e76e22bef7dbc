import { error } from '@sveltejs/kit';
import { asOf } from '$server/reads/desk/as-of';
import { csv } from '$server/http/csv';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { deskNames } from '$server/reads/desk/names';
import { itemsOfMember } from '$server/reads/desk/check';
import { VERDICT_WORDS } from '$ui/wording/decision';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const { moment, policy } = await asOf(app, url);
	const standing = await app.rights.standing(url.searchParams.get('member') ?? '');
	if (!standing) error(404, NO_SUCH_PAGE);
	const rows = [['item', 'address', 'state', 'until', 'opens']];
	const { resources } = await deskNames(app);
	for (const { id, verdict, until, opensAt } of await itemsOfMember(
		app,
		policy,
		standing.viewer,
		moment.at
	)) {
		const { title = '', address = '' } = resources[id] ?? {};
		rows.push([title, address ?? '', VERDICT_WORDS[verdict], iso(until), iso(opensAt)]);
	}
	return csv('items-of-member', rows);
};

function iso(at: number | null): string {
	return at === null ? '' : new Date(at).toISOString();
}
