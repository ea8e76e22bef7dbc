/** What goes with a film: its captions, and where somebody was in it. */
import { and, eq } from 'drizzle-orm';
import type { Using } from '../../app';
import { captionsOfAsset, type Captions } from '../../db/queries/library';
import { positions } from '../../db/schema/library';

export function captionsShown(app: Using<'db'>, assetId: string): Promise<Captions[]> {
	return captionsOfAsset(app.db, assetId);
}

/** Seconds from the beginning; 0 for strangers and for what they have not begun. */
export async function positionOf(app: Using<'db'>, memberId: string | null, itemId: string): Promise<number> {
	if (memberId === null) return 0;
	const [row] = await app.db
		.select({ seconds: positions.seconds })
		.from(positions)
		.where(and(eq(positions.memberId, memberId), eq(positions.itemId, itemId)));
	return row?.seconds ?? 0;
}
