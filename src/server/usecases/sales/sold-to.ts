import { STRANGER } from '$core/access/model';
import { sellsTo } from '$core/access/offers';
import type { Using } from '../../app';
import type { OfferedPlan } from '../../db/queries/sales';

/** Whether a plan is sold to a member, or to a stranger (`null`): what they may open at this moment is asked, and no page of theirs. */
export async function isSoldTo(
	app: Using<'clock' | 'rights'>,
	memberId: string | null,
	plan: Pick<OfferedPlan, 'soldTo'>
): Promise<boolean> {
	if (plan.soldTo === null) return true;
	const standing = memberId === null ? null : await app.rights.standing(memberId);
	return sellsTo(await app.rights.policy(), standing?.viewer ?? STRANGER, plan, app.clock.business());
}
