import { error } from '@sveltejs/kit';
import { asOf } from '$server/reads/desk/as-of';
import { csv } from '$server/http/csv';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { membersOfItem } from '$server/reads/desk/check';
import { memberNames } from '$server/reads/desk/members';
import { VERDICT_WORDS } from '$ui/wording/decision';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const { moment, policy } = await asOf(app, url);
	const item = policy.resources.get(url.searchParams.get('item') ?? '');
	if (!item) error(404, NO_SUCH_PAGE);
	const members = await membersOfItem(app, policy, item.id, moment.at);
	const names = await memberNames(
		app,
		members.map(({ id }) => id)
	);
	const rows = members.map(({ id, verdict, until, opensAt }) => [
		names.get(id) ?? '',
		VERDICT_WORDS[verdict],
		iso(until),
		iso(opensAt)
	]);
	return csv('members-of-item', [['member', 'state', 'until', 'opens'], ...rows]);
};

function iso(at: number | null): string {
	return at === null ? '' : new Date(at).toISOString();
}
