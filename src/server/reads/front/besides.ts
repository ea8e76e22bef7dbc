/** What can be bought with a plan, in one order. */
import { pricesIn } from '$core/billing/currencies';
import { sellsTo } from '$core/access/offers';
import { sellsAt } from '$core/billing/plan-access';
import type { Using } from '../../app';
import type { OfferedPlan, OfferedPrice } from '../../db/queries/sales';
import type { Look } from '../../rights/look';
import { plansNow, shownPlans } from '../../rights/shown';
import { includedHere } from './offers';

/** Whatever else there is, is put together by a link. */
const MOST_SHOWN = 8;
/** With the first of an order, as many as an order may be of. */
const MOST_CHOSEN = 7;

export interface Beside {
	plan: OfferedPlan;
	price: OfferedPrice;
}

/**
 * What is offered with a plan, and what a link or a form has named: sold to whoever looks, paid in the same currency, and not
 * theirs already, and asked for in the same ways. Of each ladder there is one rung in an order.
 * @param named slugs of plans, or ids of their prices, that are chosen
 * @param kept those that stay in the list where they are chosen no more
 */
export async function besidesOf(
	app: Using<'db' | 'rights' | 'site'>,
	look: Look,
	head: Pick<OfferedPlan, 'asksPostal' | 'id' | 'ladderId' | 'payBy'> & { currency: string },
	named: readonly string[],
	kept: readonly string[] = []
): Promise<{ offered: Beside[]; chosen: Beside[] }> {
	const all = await plansNow(app, { now: look.now, currency: head.currency });
	const every = await shownPlans(app);
	const held = heldBy(look);
	const isHeld = ({ id, ladderId }: OfferedPlan) =>
		held.has(id) ||
		(ladderId !== null && every.some((plan) => plan.ladderId === ladderId && held.has(plan.id)));
	const isSold = (plan: OfferedPlan) =>
		plan.id !== head.id &&
		(plan.ladderId === null || plan.ladderId !== head.ladderId) &&
		plan.buyAt === null &&
		(head.asksPostal || !plan.asksPostal) &&
		(plan.payBy === null || String(plan.payBy) === String(head.payBy)) &&
		sellsAt(plan, look.now) &&
		sellsTo(look.policy, look.viewer, plan, look.now) &&
		!isHeld(plan);
	const thingOf = (plan: OfferedPlan): Beside | null => {
		const prices = pricesIn(plan.prices, [head.currency]);
		const price = prices.find(({ priceId }) => named.includes(priceId)) ?? prices[0];
		return price?.terms.currency === head.currency ? { plan, price } : null;
	};
	const isAmong = (names: readonly string[], plan: OfferedPlan) =>
		names.includes(plan.slug) || plan.prices.some(({ priceId }) => names.includes(priceId));
	const chosen: Beside[] = [];
	const left: Beside[] = [];
	const open: Beside[] = [];
	// Whether all of it is theirs by something else is asked of no more than are shown.
	for (const plan of all) {
		const list = isAmong(named, plan) ? chosen : isAmong(kept, plan) ? left : open;
		const most = list === open ? MOST_SHOWN : MOST_CHOSEN;
		const isListed = list !== open || (plan.isPublic && plan.soleItemId === null);
		if (!isListed || list.length >= most || !isSold(plan)) continue;
		const thing = thingOf(plan);
		if (thing && includedHere(look, plan.id, every) === null) list.push(thing);
	}
	const own = oneOfEachLadder(chosen);
	const first = [...own, ...left];
	return { offered: [...first, ...open.slice(0, Math.max(0, MOST_SHOWN - first.length))], chosen: own };
}

function oneOfEachLadder(things: readonly Beside[]): Beside[] {
	return things.filter(
		({ plan }, n) =>
			plan.ladderId === null || !things.slice(0, n).some((other) => other.plan.ladderId === plan.ladderId)
	);
}

function heldBy({ viewer, now }: Look): Set<string> {
	if (viewer.kind !== 'member') return new Set();
	const runs = viewer.grants.filter(({ from, until, revokedAt }) => {
		const end = revokedAt ?? until;
		return from <= now && (end === null || end > now);
	});
	return new Set(runs.map(({ planId }) => planId));
}
