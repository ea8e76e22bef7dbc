import { usesLeft } from '$core/access/uses-left';
import type { Using } from '../app';
import { countedOf } from '../db/queries/uses';

/** How many uses of a file there were and may be: for its page, before anybody presses. `null`: nothing is counted. */
export async function fileUses(
	app: Using<'clock' | 'db' | 'rights'>,
	memberId: string,
	itemId: string
): Promise<{ used: number; limit: number } | null> {
	const policy = await app.rights.policy();
	const standing = await app.rights.standing(memberId);
	if (!standing) return null;
	const counted = await countedOf(app.db, memberId, itemId);
	return usesLeft(policy, standing.viewer, itemId, app.clock.business(), counted);
}
