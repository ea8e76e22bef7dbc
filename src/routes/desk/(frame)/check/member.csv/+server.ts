import { error } from '@sveltejs/kit';
import { allTitles } from '$server/db/queries/library';
import { asOf } from '$server/http/as-of';
import { csv } from '$server/http/csv';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { checkOne } from '$server/usecases/access/check';
import { VERDICT_WORDS } from '$ui/wording/decision';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const { moment, policy } = await asOf(app, url);
	const standing = await app.rights.standing(url.searchParams.get('member') ?? '');
	if (!standing) error(404, NO_SUCH_PAGE);
	const rows = [['item', 'address', 'state', 'until', 'opens']];
	for (const { id, title, address } of await allTitles(app.db)) {
		if (address === null) continue;
		const { decision } = await checkOne(app, policy, standing.viewer, id, moment.at);
		const opensAt = decision.verdict === 'open' ? null : decision.opensAt;
		rows.push([title, address, VERDICT_WORDS[decision.verdict], iso(decision.until), iso(opensAt)]);
	}
	return csv('items-of-member', rows);
};

function iso(at: number | null): string {
	return at === null ? '' : new Date(at).toISOString();
}
