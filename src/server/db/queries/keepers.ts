/** Who has used what is in the Library already. */
import { and, inArray, isNull } from 'drizzle-orm';
import type { Handle } from '../connect';
import { uses } from '../schema/access';
import { positions } from '../schema/library';

const AT_ONCE = 500;

/** Members who have watched, heard or downloaded something of it. Pages that were only read are not written down. */
export async function whoOpened(db: Handle, itemIds: readonly string[]): Promise<Set<string>> {
	const found = new Set<string>();
	for (let n = 0; n < itemIds.length; n += AT_ONCE) {
		const some = itemIds.slice(n, n + AT_ONCE);
		const watched = db
			.selectDistinct({ memberId: positions.memberId })
			.from(positions)
			.where(inArray(positions.itemId, some));
		const counted = db
			.selectDistinct({ memberId: uses.memberId })
			.from(uses)
			.where(and(inArray(uses.itemId, some), isNull(uses.givenBackAt)));
		for (const rows of [await watched, await counted]) for (const { memberId } of rows) found.add(memberId);
	}
	return found;
}
