/** A why as it is shown: its first sentence, what can be done about it, and the steps. */
import type { RequestEvent } from '@sveltejs/kit';
import { decidingStep } from '$core/access/because';
import { STRANGER } from '$core/access/model';
import { newcomer } from '$core/access/newcomers';
import { offersAt } from '$core/access/offers';
import { assuming } from '$core/access/timeline';
import { asOf } from '$server/reads/desk/as-of';
import { checkOne } from '$server/reads/desk/check';
import { deskNames } from '$server/reads/desk/names';
import { namesOf } from '$ui/names';
import { becauseWords, mendsOf, whyOf, type Mend, type Sentence } from '$ui/wording/decision';

export interface WhyView {
	because: string;
	mends: Mend[];
	why: Sentence[];
}

/**
 * As an address asks: `?member=…&item=…&asof=…`, or `?plan=…` for somebody who joined it today; neither is a stranger.
 * @returns `null` where there is no such item or member
 */
export async function whyAsked(
	app: RequestEvent['locals']['app'],
	url: URL,
	memberId: string | null
): Promise<WhyView | null> {
	const { moment, policy } = await asOf(app, url);
	const item = policy.resources.get(url.searchParams.get('item') ?? '');
	const standing = memberId ? await app.rights.standing(memberId) : null;
	if (!item || (memberId && !standing)) return null;
	const planId = url.searchParams.get('plan');
	const whoever = planId ? newcomer(planId, moment.now) : STRANGER;
	const member =
		standing && moment.at > moment.now ? assuming(standing.viewer, moment.assume) : standing?.viewer;
	const viewer = member ?? whoever;
	const names = namesOf(await deskNames(app), (await app.site()).zone);
	const asked = standing
		? { who: 'this member', whose: 'this member’s' }
		: planId
			? { who: `whoever joins ${names.plan(planId)} now`, whose: 'their' }
			: { who: 'a stranger', whose: 'their' };
	const explained = await checkOne(app, policy, viewer, item.id, moment.at);
	const { verdict } = explained.decision;
	const step = decidingStep(explained);
	const context = await app.rights.context(policy, viewer, item.id);
	const offers = verdict === 'open' ? [] : offersAt(policy, viewer, item.id, moment.at, context);
	return {
		because: becauseWords(verdict, step, offers, asked, names),
		mends: mendsOf(step, offers, { memberId, itemId: item.id }, names),
		why: whyOf(explained.steps, names)
	};
}
