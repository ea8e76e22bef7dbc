/** The day that a member's releases count from, set by hand where another system knows better: rehearsed first. */
import type { Member } from '$core/access/model';
import { rehearseMember, type MemberEffect } from '$core/access/rehearse-members';
import { eq, sql } from 'drizzle-orm';
import { lockAccount, population, setFirstDay } from '../../db/queries/members';
import { accounts } from '../../db/schema/people';
import { need, type Staff } from '../../people/need';
import { digestOf, transact, type Transacting } from '../../transact';

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
	const policy = await app.rights.policy();
	const [before] = await population(app.db, [wish.memberId]);
	if (!before) return { kind: 'refused', code: 'unknown' };
	const now = app.clock.business();
	const effects = rehearseMember(policy, before, withFirstDay(before, wish), now, 'renewals-go-on');
	// What happens at once happens a little later now: the moment is no part of what was agreed to.
	const happens = effects.map(({ at, ...rest }) => ({ ...rest, at: rest.kind.endsWith('now') ? null : at }));
	const digest = digestOf({ wish, happens });
	if (effects.length > 0 && agreedTo !== digest) return { kind: 'rehearsed', digest, effects };
	const isSaved = await transact(app, actor, async (work) => {
		await lockAccount(work.tx, wish.memberId);
		const [present] = await population(work.tx, [wish.memberId]);
		// Bought, ended or set by somebody else meanwhile: it is looked at anew.
		if (digestOf(present ?? null) !== digestOf(before)) return false;
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
