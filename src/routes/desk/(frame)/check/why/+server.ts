import { error, json } from '@sveltejs/kit';
import { newcomer } from '$core/access/newcomers';
import { assuming } from '$core/access/timeline';
import { asOf } from '$server/reads/desk/as-of';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { deskNames } from '$server/reads/desk/names';
import { STRANGER } from '$core/access/model';
import { checkOne } from '$server/reads/desk/check';
import { namesOf } from '$ui/names';
import { whyOf } from '$ui/wording/decision';
import type { RequestHandler } from './$types';

/**
 * The why of one mark, asked for when it is opened: `?member=…&item=…&asof=…`, or `?plan=…` for somebody who joined it today;
 * neither is a stranger.
 */
export const GET: RequestHandler = async ({ locals: { app, viewer }, url }) => {
	const { moment, policy } = await asOf(app, url);
	const item = policy.resources.get(url.searchParams.get('item') ?? '');
	const memberId = url.searchParams.get('member');
	if (memberId && !viewer?.permissions.has('members')) error(403, 'Your role does not include this.');
	const standing = memberId ? await app.rights.standing(memberId) : null;
	if (!item || (memberId && !standing)) error(404, NO_SUCH_PAGE);
	const planId = url.searchParams.get('plan');
	const whoever = planId ? newcomer(planId, moment.now) : STRANGER;
	const member =
		standing && moment.at > moment.now ? assuming(standing.viewer, moment.assume) : standing?.viewer;
	const { steps } = await checkOne(app, policy, member ?? whoever, item.id, moment.at);
	const { zone } = await app.site();
	return json({ why: whyOf(steps, namesOf(await deskNames(app), zone)) });
};
