import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { Audience, Fence, TurnAway } from '$core/access/model';
import type { Actor, App } from '../../app';
import { itemsByIds } from '../../db/queries/library';
import { allFences } from '../../db/queries/policy';
import { planNames } from '../../db/queries/sales';
import { crossings, fences } from '../../db/schema/access';
import { transact, type Work } from '../../transact';

export interface FenceWish {
	name: string;
	isOn: boolean;
	mode: Fence['mode'];
	itemIds: string[];
	audiences: Audience[];
	turnAway: TurnAway | null;
}

export type SavedFence =
	{ ok: true; fenceId: string } | { ok: false; code: 'unknown' | 'unknown-item' | 'unknown-plan' };

/** Makes a fence (`fenceId` is `null`) or rewrites one. */
export async function saveFence(
	app: App,
	actor: Actor,
	fenceId: string | null,
	wish: FenceWish
): Promise<SavedFence> {
	return transact(app, actor, async (work) => {
		const before = fenceId === null ? null : (await allFences(work.tx)).find((fence) => fence.id === fenceId);
		if (before === undefined) return { ok: false, code: 'unknown' };
		const problem = await unknownParts(work, wish);
		if (problem) return { ok: false, code: problem };
		const id = fenceId ?? uuidv7();
		const row = {
			name: wish.name,
			isOn: wish.isOn,
			mode: wish.mode,
			selector: { kind: 'items' as const, itemIds: wish.itemIds },
			turnAway: wish.turnAway
		};
		if (fenceId === null) await work.tx.insert(fences).values({ id, ...row, createdAt: work.now });
		else await work.tx.update(fences).set(row).where(eq(fences.id, id));
		await work.tx.delete(crossings).where(eq(crossings.fenceId, id));
		if (wish.audiences.length > 0) {
			await work.tx
				.insert(crossings)
				.values(wish.audiences.map((audience, position) => ({ fenceId: id, position, audience })));
		}
		await work.note({ action: 'saved-fence', subject: { kind: 'fence', id }, before, after: wish });
		work.policyChanged('fence saved');
		return { ok: true, fenceId: id };
	});
}

async function unknownParts({ tx }: Work, wish: FenceWish): Promise<'unknown-item' | 'unknown-plan' | null> {
	const items = await itemsByIds(tx, wish.itemIds);
	if (items.length < new Set(wish.itemIds).size) return 'unknown-item';
	const planIds = new Set(
		wish.audiences.flatMap((audience) => (audience.kind === 'holders' ? audience.planIds : []))
	);
	const names = await planNames(tx, [...planIds]);
	return names.size < planIds.size ? 'unknown-plan' : null;
}
