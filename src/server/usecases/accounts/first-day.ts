/** The day that a member's releases count from, set by hand where another system knows better: rehearsed first. */
import type { Member } from '$core/access/model';
import type { MemberEffect } from '$core/access/rehearse-members';
import { eq, sql } from 'drizzle-orm';
import { setFirstDay } from '../../db/queries/members';
import { accounts } from '../../db/schema/people';
import { need, type Staff } from '../../people/need';
import { transact, type Transacting } from '../../transact';
import { isStill, rehearsedFor } from './rehearsed-member';

export interface FirstDayWish {
	memberId: string;
	planId: string;
	at: number;
}

/** `digest`: of the wish and all it does; the yes names it. */
export type FirstDaySet =
	| { kind: 'saved' }
	| { kind: 'rehearsed'; digest: string; effects: MemberEffect[] }
	| { kind: 'refused'; code: 'unknown' };

/** Set at once where nothing opens or shuts by it. @param agreedTo the digest that somebody said yes to */
export async function changeFirstDay(
	app: Transacting,
	actor: Staff,
	wish: FirstDayWish,
	agreedTo: string | null
): Promise<FirstDaySet> {
	need(actor, 'members');
	const rehearsal = await rehearsedFor(app, wish.memberId, wish, (member) => withFirstDay(member, wish));
	if (!rehearsal) return { kind: 'refused', code: 'unknown' };
	const { digest, effects, before } = rehearsal;
	if (effects.length > 0 && agreedTo !== digest) return { kind: 'rehearsed', digest, effects };
	const isSaved = await transact(app, actor, async (work) => {
		if (!(await isStill(work, before))) return false;
		await setFirstDay(work.tx, wish.memberId, wish.planId, wish.at);
		// What shuts by it shuts in the player, too.
		await work.tx
			.update(accounts)
			.set({ epoch: sql`${accounts.epoch} + 1` })
			.where(eq(accounts.id, wish.memberId));
		await work.note({
			action: 'set-first-day',
			subject: { kind: 'account', id: wish.memberId },
			memberId: wish.memberId,
			before: { tenures: before.tenures },
			after: wish
		});
		work.standingChanged(wish.memberId);
		return true;
	});
	return isSaved ? { kind: 'saved' } : changeFirstDay(app, actor, wish, agreedTo);
}

function withFirstDay(member: Member, { planId, at }: FirstDayWish): Member {
	const others = member.tenures.filter((one) => one.planId !== planId);
	return { ...member, tenures: [...others, { planId, firstJoinedAt: at, isSetByHand: true }] };
}
