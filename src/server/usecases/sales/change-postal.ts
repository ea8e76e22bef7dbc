/** Somebody of the staff mends where an order is sent, as its buyer asks for it. */
import { eq } from 'drizzle-orm';
import { isWholePostal, type Postal } from '$core/text/postal';
import { orderIfThere } from '../../db/queries/sales';
import { orders } from '../../db/schema/sales';
import { need, type Staff } from '../../people/need';
import { ChangedMeanwhile, expectRevision } from '../../revision';
import { transact, type Transacting } from '../../transact';

export type PostalChanged =
	| { kind: 'saved' }
	/** Nothing of it is sent, or its buyer was deleted. */
	| { kind: 'unknown' }
	/** It says not where to. */
	| { kind: 'not-whole' }
	/** Somebody else mended it meanwhile. */
	| { kind: 'changed' };

/** Programs that were told of the order know the address that it had then. */
export async function changePostal(
	app: Transacting,
	actor: Staff,
	orderId: string,
	{ postal, revision }: { postal: Postal; revision: string | null }
): Promise<PostalChanged> {
	need(actor, 'members');
	if (!isWholePostal(postal)) return { kind: 'not-whole' };
	if (!/^[0-9a-f-]{36}$/.test(orderId)) return { kind: 'unknown' };
	try {
		return await transact<PostalChanged>(app, actor, async (work) => {
			const order = await orderIfThere(work.tx, orderId);
			if (!order?.postal || order.memberId === null) return { kind: 'unknown' };
			expectRevision(revision, order.postal);
			await work.tx.update(orders).set({ postal }).where(eq(orders.id, orderId));
			await work.note({
				...{ action: 'changed-postal', subject: { kind: 'order', id: orderId } },
				...{ memberId: order.memberId, before: order.postal, after: postal }
			});
			return { kind: 'saved' };
		});
	} catch (error) {
		if (error instanceof ChangedMeanwhile) return { kind: 'changed' };
		throw error;
	}
}
