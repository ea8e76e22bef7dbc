/** What somebody wishes to buy: a plan at one of its prices, and others with it in one order. */
import { sellsAt } from '$core/billing/plan-access';
import type { Using } from '../../app';
import { withPlaces } from '../../db/queries/places';
import { planBySlug, type OfferedPlan, type OfferedPrice } from '../../db/queries/sales';
import type { Buyer } from '../../db/queries/taking';
import { isSoldTo } from './sold-to';

export interface WishedThing {
	planSlug: string;
	/** Which of the plan's prices; `null`: the first. */
	priceId: string | null;
}

export interface Thing {
	plan: OfferedPlan;
	price: OfferedPrice;
}

/** `price-gone`: it was for the first buyers, and there are as many by now. */
export type WishProblem = 'unknown-plan' | 'unknown-price' | 'price-gone' | 'not-on-sale';
/** `besides-gone`: of what was put together, something cannot be had. */
export type BesidesProblem = 'besides-gone' | 'besides-currency' | 'same-ladder';

export const MOST_TOGETHER = 8;

type Asking = Using<'clock' | 'db' | 'rights'>;

export async function thingWished(
	app: Asking,
	{ planSlug, priceId }: WishedThing,
	buyer: Buyer
): Promise<{ ok: true; thing: Thing } | { ok: false; code: WishProblem }> {
	const known = await planBySlug(app.db, planSlug);
	if (!known) return { ok: false, code: 'unknown-plan' };
	const now = app.clock.business();
	const [plan = known] = await withPlaces(app.db, [known], { now, buyer });
	if (plan.isFull && sellsAt(known, now)) return { ok: false, code: 'price-gone' };
	if (!sellsAt(plan, now) || plan.buyAt !== null) return { ok: false, code: 'not-on-sale' };
	if (!(await isSoldTo(app, buyer.memberId, plan))) return { ok: false, code: 'not-on-sale' };
	const price = priceId === null ? plan.price : plan.prices.find((one) => one.priceId === priceId);
	const isGone = known.prices.some((one) => one.priceId === priceId);
	if (!price) return { ok: false, code: isGone ? 'price-gone' : 'unknown-price' };
	return { ok: true, thing: { plan, price } };
}

/** The first thing with the others, each plan once, of one currency and no two rungs of a ladder. */
export async function thingsBesides(
	app: Asking,
	head: Thing,
	besides: readonly WishedThing[],
	buyer: Buyer
): Promise<{ ok: true; things: Thing[] } | { ok: false; code: BesidesProblem }> {
	const things = [head];
	if (besides.length >= MOST_TOGETHER) return { ok: false, code: 'besides-gone' };
	for (const one of besides) {
		if (things.some(({ plan }) => plan.slug === one.planSlug)) continue;
		const wished = await thingWished(app, one, buyer);
		if (!wished.ok) return { ok: false, code: 'besides-gone' };
		const { plan, price } = wished.thing;
		if (price.terms.currency !== head.price.terms.currency) return { ok: false, code: 'besides-currency' };
		const isRung = things.some((other) => plan.ladderId !== null && other.plan.ladderId === plan.ladderId);
		if (isRung) return { ok: false, code: 'same-ladder' };
		things.push(wished.thing);
	}
	return { ok: true, things };
}
