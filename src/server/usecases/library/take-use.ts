/** Counts one opening, where a limit makes it count. */
import { decide } from '$core/access/decide';
import type { App } from '../../app';
import { lockAccount, usesOf } from '../../db/queries/members';
import { uses } from '../../db/schema/access';
import { transact } from '../../transact';

/** Openings within a day of each other are one use: a page that is loaded again, a film that is watched in two sittings. */
const SAME_USE_MS = 24 * 3_600_000;

/** `false`: the limit is reached, and nothing was counted. Two at once take turns, so that the last use is taken once. */
export async function takeUse(app: App, memberId: string, itemId: string): Promise<boolean> {
	const policy = await app.rights.policy();
	const standing = await app.rights.standing(memberId);
	if (!standing) return false;
	return transact(app, { id: memberId }, async ({ tx, now }) => {
		await lockAccount(tx, memberId);
		const known = await usesOf(tx, memberId, itemId);
		const decision = decide(policy, standing.viewer, itemId, now, { uses: known });
		if (decision.verdict !== 'open') return false;
		const { allowedBy } = decision;
		if (allowedBy.by !== 'crossing' || !allowedBy.isCounted) return true;
		const { grantId } = allowedBy;
		if (known.some((use) => use.grantId === grantId && now < use.goesOnUntil)) return true;
		await tx.insert(uses).values({ itemId, memberId, grantId, at: now, goesOnUntil: now + SAME_USE_MS });
		return true;
	});
}
