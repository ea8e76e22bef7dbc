/** What was bought for somebody else. */
import { and, desc, eq, isNotNull, isNull, sql } from 'drizzle-orm';
import { giftState, type GiftState } from '$core/billing/gift';
import type { Handle } from '../connect';
import { gifts, orders, plans } from '../schema/sales';

export type Gift = typeof gifts.$inferSelect;

/** With who gives it, and how it stands. */
export interface StandingGift extends Gift {
	/** `null`: a stranger, who has not paid. */
	giverId: string | null;
	planName: string;
	state: GiftState;
}

type PaidGift = Omit<StandingGift, 'state'> & { state: Exclude<GiftState, 'unpaid'> };

export async function giftOfOrder(db: Handle, orderId: string): Promise<Gift | null> {
	const [row] = await db.select().from(gifts).where(eq(gifts.orderId, orderId));
	return row ?? null;
}

export async function giftById(db: Handle, id: string): Promise<StandingGift | null> {
	if (!/^[0-9a-f-]{36}$/.test(id)) return null;
	const [row] = await standing(db).where(eq(gifts.id, id));
	return row ? withState(row) : null;
}

/** What waits for a mailbox that has been told of it, the oldest first. */
export async function giftsFor(db: Handle, email: string): Promise<StandingGift[]> {
	const rows = await standing(db)
		.where(and(eq(gifts.email, email), isNotNull(gifts.toldAt), isNull(gifts.openedAt)))
		.orderBy(gifts.id);
	return rows.map(withState).filter(({ state }) => state === 'told');
}

/** What a member has given, the newest first; what was never paid was not given. */
export async function giftsBy(db: Handle, memberId: string): Promise<PaidGift[]> {
	const rows = await standing(db).where(eq(orders.memberId, memberId)).orderBy(desc(gifts.id));
	return rows
		.map(withState)
		.flatMap(({ state, ...gift }) => (state === 'unpaid' ? [] : [{ ...gift, state }]));
}

function standing(db: Handle) {
	const takenBack = sql<number>`exists(select 1 from payments p where p.order_id = ${orders.id} and p.agreement_id is null
		and (p.dispute in ('open', 'lost') or exists(select 1 from refunds r
			where r.payment_id = p.id and r.ends_access and r.cause <> 'surplus')))`;
	return db
		.select({
			gift: gifts,
			giverId: orders.memberId,
			order: orders.state,
			planName: plans.name,
			takenBack: takenBack.mapWith(Number)
		})
		.from(gifts)
		.innerJoin(orders, eq(orders.id, gifts.orderId))
		.innerJoin(plans, eq(plans.id, gifts.planId))
		.$dynamic();
}

function withState({
	gift,
	giverId,
	planName,
	order,
	takenBack
}: Awaited<ReturnType<typeof standing>>[number]): StandingGift {
	const isTakenBack = takenBack === 1 || order === 'given-back';
	const { toldAt, openedAt } = gift;
	return {
		...{ ...gift, giverId, planName },
		state: giftState({ isPaid: order === 'paid', isTakenBack, toldAt, openedAt })
	};
}
