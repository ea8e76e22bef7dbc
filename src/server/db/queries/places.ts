/** What is left of prices that are for the first buyers alone: an order takes a place, and a refund frees none. */
import { and, countDistinct, eq, inArray } from 'drizzle-orm';
import { MAIN_KINDS } from '$core/billing/order';
import { leftOf } from '$core/billing/plan-access';
import type { Handle } from '../connect';
import { orderLines, orders, prices, priceVersions } from '../schema/sales';
import type { OfferedPlan, OfferedPrice } from './sales';
import { butNot, takes, type Buyer, type Except } from './taking';

export interface PlacesAsk {
	now: number;
	/** Who asks: what they have begun takes no place from them. */
	buyer?: Buyer;
}

/** Plans with those of their prices of which something is left. Those that sell without a limit stay as they are. */
export async function withPlaces(
	db: Handle,
	plans: readonly OfferedPlan[],
	{ now, buyer }: PlacesAsk
): Promise<OfferedPlan[]> {
	const limited = plans.flatMap((plan) => plan.prices).filter(({ firstBuyers }) => firstBuyers !== null);
	if (limited.length === 0) return [...plans];
	const ids = limited.map(({ priceId }) => priceId);
	const taken = await placesTaken(db, ids, now, buyer && { ...buyer, except: 'unpaid' });
	return plans.map((plan) => withLeft(plan, taken));
}

function withLeft(plan: OfferedPlan, taken: ReadonlyMap<string, number>): OfferedPlan {
	const all = plan.prices.map((price) => ({
		...price,
		left: leftOf(price.firstBuyers, taken.get(price.priceId) ?? 0)
	}));
	const open = all.filter(({ left }) => left !== 0);
	const [price = plan.price] = open;
	return open.length > 0 ? { ...plan, price, prices: open } : { ...plan, isFull: true };
}

/** How many places are taken of each price. */
export async function placesTaken(
	db: Handle,
	priceIds: readonly string[],
	now: number,
	of?: Buyer & { except: Except }
): Promise<Map<string, number>> {
	if (priceIds.length === 0) return new Map();
	const rows = await db
		.select({ priceId: priceVersions.priceId, taken: countDistinct(orders.id) })
		.from(priceVersions)
		.innerJoin(orderLines, eq(orderLines.priceVersionId, priceVersions.id))
		.innerJoin(orders, eq(orders.id, orderLines.orderId))
		.where(
			and(
				inArray(priceVersions.priceId, [...priceIds]),
				inArray(orderLines.kind, MAIN_KINDS),
				takes(now),
				of && butNot(of, of.except)
			)
		)
		.groupBy(priceVersions.priceId);
	return new Map(rows.map(({ priceId, taken }) => [priceId, taken]));
}

/** Behind the price's lock: whoever asks next waits until this one has ordered. @returns whether a place is left */
export async function hasPlaceNow(
	db: Handle,
	{ priceId, firstBuyers: known }: Pick<OfferedPrice, 'priceId' | 'firstBuyers'>,
	now: number,
	of: (Buyer & { except: Except }) | undefined
): Promise<boolean> {
	if (known === null) return true;
	const { firstBuyers } = prices;
	const [row] = await db.select({ firstBuyers }).from(prices).where(eq(prices.id, priceId)).for('update');
	if (!row) return false;
	const taken = await placesTaken(db, [priceId], now, of);
	return leftOf(row.firstBuyers, taken.get(priceId) ?? 0) !== 0;
}
