/** Where something stands among those that live in the same home. */
import { placedAfter, renumbered } from '$core/library/order';
import { livingIn, lockItem, writePositions } from '../../db/queries/items';
import type { Work } from '../../transact';

/** Whoever arranges in a home, or puts something into it, does it one after the other. To be called before it is put there. */
export async function lockHome({ tx }: Pick<Work, 'tx'>, homeId: string | null): Promise<void> {
	if (homeId !== null) await lockItem(tx, homeId);
}

/**
 * Under the lock of its home.
 *
 * @param after which of them it comes; `null`: none, it is the first; left out, or gone: the last
 */
export async function arrange(
	{ tx }: Pick<Work, 'tx'>,
	homeId: string,
	id: string,
	after?: string | null
): Promise<void> {
	const before = await livingIn(tx, homeId);
	const order = placedAfter(
		before.map((one) => one.id),
		id,
		after === undefined ? id : after
	);
	await writePositions(tx, renumbered(before, order));
}
