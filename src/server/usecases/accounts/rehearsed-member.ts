/** What is done to one member, and rehearsed first: the yes names the wish and all that it does. */
import type { Member } from '$core/access/model';
import { rehearseMember, type MemberEffect } from '$core/access/rehearse-members';
import { lockAccount, population } from '../../db/queries/members';
import { digestOf, type Transacting, type Work } from '../../transact';

const DAY_MS = 86_400_000;

export interface MemberRehearsal {
	/** Of the wish and all it does. */
	digest: string;
	effects: MemberEffect[];
	/** As the member was looked at. */
	before: Member;
}

/** `null`: there is no such member. @param change how the member would stand */
export async function rehearsedFor(
	app: Transacting,
	memberId: string,
	wish: unknown,
	change: (before: Member) => Member
): Promise<MemberRehearsal | null> {
	const policy = await app.rights.policy();
	const [before] = await population(app.db, [memberId]);
	if (!before) return null;
	const effects = rehearseMember(policy, before, change(before), app.clock.business(), 'renewals-go-on');
	// What happens at once happens a little later now, and what is counted from now a little later, too: the day is agreed to.
	const day = (at: number | null) => at && Math.floor(at / DAY_MS);
	const happens = effects.map(({ kind, at, backAt, placeIds }) => ({
		...{ kind, placeIds, backOn: day(backAt) },
		on: kind.endsWith('now') ? null : day(at)
	}));
	return { digest: digestOf({ wish, happens }), effects, before };
}

/** Whether the member, locked from here on, still is as they were looked at: bought, ended and set by nobody meanwhile. */
export async function isStill({ tx }: Work, before: Member): Promise<boolean> {
	await lockAccount(tx, before.id);
	const [present] = await population(tx, [before.id]);
	return digestOf(present ?? null) === digestOf(before);
}
