import { error } from '@sveltejs/kit';
import { rowsOf } from '$core/access/rehearse';
import { csv } from '$server/http/csv';
import { placeTitles } from '$server/reads/desk/rehearsal-view';
import { memberNames } from '$server/reads/desk/members';
import { keptRehearsal } from '$server/usecases/access/rehearsed-save';
import type { RequestHandler } from './$types';

const MOST = 200_000;

/** Every member and item behind the numbers of a rehearsal. */
export const GET: RequestHandler = async ({ locals: { app }, params }) => {
	const kept = /^[0-9a-f-]{36}$/.test(params.id) ? await keptRehearsal(app, params.id) : null;
	if (!kept) error(404, 'This rehearsal is not kept any more. Run it again.');
	const title = await placeTitles(app);
	const people = await memberNames(app, [
		...new Set(kept.result.groups.flatMap(({ memberIds }) => memberIds))
	]);
	const rows: string[][] = [['member', 'item', 'effect', 'from', 'open again']];
	for (const { memberId, placeId, kind, at, backAt } of rowsOf(kept.result, null)) {
		if (rows.length > MOST) break;
		rows.push([
			people.get(memberId) ?? memberId,
			title(placeId),
			kind.replace('-', ' '),
			new Date(at).toISOString(),
			backAt === null ? '' : new Date(backAt).toISOString()
		]);
	}
	return csv('rehearsal', rows);
};
