/** Plans that are offered. */
import { currenciesOf } from '$core/billing/currencies';
import { giftOf } from '$core/billing/gift';
import { sellsTo } from '$core/access/offers';
import { sellsAt, soldAt, type PlanAccess } from '$core/billing/plan-access';
import type { Using } from '../../app';
import { accountById } from '../../db/queries/members';
import { isWaiting } from '../../db/queries/waiting-list';
import { withPlaces } from '../../db/queries/places';
import { planBySlug, type OfferedPlan } from '../../db/queries/sales';
import type { Buyer } from '../../db/queries/taking';
import type { Look, Looking } from '../../rights/look';
import { inCurrency, plansNow, shownPlans } from '../../rights/shown';
import { listFor } from './lists';
import { includedHere, offersFor, type Carried, type IncludedHere, type Offer } from './offers';

/** What everybody is offered, in the publisher's order. What is sold alone is offered where it is. */
export async function plansOffered(
	app: Using<'db' | 'rights' | 'site'>,
	look: Look,
	carried: Carried
): Promise<Offer[]> {
	const all = await plansNow(app, look);
	const plans = all.filter((plan) => plan.isPublic && plan.soleItemId === null && isSold(look, plan));
	return offersFor(look, plans, carried, all);
}

/** What everybody will be offered when its selling opens, the next first; then what is taken and waited for: `from` null. */
export async function plansComing(app: Using<'db' | 'rights' | 'site'>, look: Look) {
	const all = await plansNow(app, look);
	return all
		.flatMap((plan): { id: string; name: string; slug: string; from: number | null }[] => {
			const sold = soldAt(plan, look.now);
			const isForAll = plan.isPublic && plan.soleItemId === null;
			if (!isForAll || !sellsTo(look.policy, look.viewer, plan, look.now)) return [];
			const { id, name, slug } = plan;
			if (sold.kind === 'later') return [{ id, name, slug, from: sold.from }];
			return sold.kind === 'full' && plan.hasWaitingList ? [{ id, name, slug, from: null }] : [];
		})
		.sort((a, b) => (a.from ?? Infinity) - (b.from ?? Infinity));
}

/** Plans on sale by the last parts of their addresses, in that order; what is sold by its link alone is among them. */
export async function plansNamed(
	app: Using<'db' | 'rights' | 'site'>,
	look: Look,
	slugs: readonly string[]
): Promise<Offer[]> {
	const all = await plansNow(app, look);
	const named = [...new Set(slugs)].flatMap((slug) => all.find((plan) => plan.slug === slug) ?? []);
	return offersFor(
		look,
		named.filter((plan) => isSold(look, plan)),
		{},
		all
	);
}

/** In which currencies something is sold to everybody, and in which of them whoever looks is shown it. */
export async function currenciesShown(
	app: Using<'db' | 'rights' | 'site'>,
	look: Look,
	slug: string | null = null
): Promise<{ currencies: string[]; shown: string; wished: string | null }> {
	const all = (await shownPlans(app)).filter((plan) =>
		slug === null ? plan.isPublic && plan.soleItemId === null && isSold(look, plan) : plan.slug === slug
	);
	const currencies = currenciesOf(all.flatMap(({ prices }) => prices)).sort();
	const own = (await app.site()).currency;
	const shown = [look.currency, own].find((one) => one !== undefined && currencies.includes(one));
	return { currencies, shown: shown ?? currencies[0] ?? own, wished: look.currency ?? null };
}

/** One plan and what it opens. `null`: there is none. */
export async function planPage(app: Looking, look: Look, slug: string, carried: Carried) {
	const all = await plansNow(app, look);
	const plan = all.find((one) => one.slug === slug);
	if (!plan) return null;
	const [offer] = offersFor(look, [plan], carried, all);
	const isOpenedBy = (id: string) => {
		const resource = look.policy.resources.get(id);
		return resource ? look.policy.passage(resource).ways.some((way) => way.plans?.has(plan.id)) : false;
	};
	return {
		offer,
		isOnSale: isSold(look, plan),
		/** `null`: nobody waits for it here. */
		waiting:
			plan.hasWaitingList && !sellsAt(plan, look.now) ? { waits: await waits(app, look, plan.id) } : null,
		sold: soldAt(plan, look.now),
		/** Nothing is said of it to whoever it is not for and does not have it. */
		isForOthers: !sellsTo(look.policy, look.viewer, plan, look.now) && offer?.action.kind !== 'plan.open',
		canBeGiven: canBeGiven(plan),
		items: await listFor(app, look, (item) => item.address !== null && isOpenedBy(item.id))
	};
}

/** Whether whoever looks stands on its waiting list already. */
async function waits(app: Looking, { viewer }: Look, planId: string): Promise<boolean> {
	const account = viewer.kind === 'member' ? await accountById(app.db, viewer.id) : null;
	return account?.email != null && isWaiting(app.db, planId, account.email);
}

function isSold(look: Look, plan: OfferedPlan): boolean {
	return sellsAt(plan, look.now) && sellsTo(look.policy, look.viewer, plan, look.now);
}

/** Whether all that a plan opens is open to whoever looks by what they hold. */
export async function includedAt(
	app: Using<'db' | 'rights' | 'site'>,
	look: Look,
	planId: string
): Promise<IncludedHere | null> {
	return includedHere(look, planId, await shownPlans(app));
}

/** As it is at this moment, and not as memory has it: for whoever is about to pay. `null`: there is none for them. */
export async function planToBuy(
	app: Using<'db' | 'site'>,
	look: Look,
	slug: string,
	{ buyer, isGift = false, priceId = null }: { buyer?: Buyer; isGift?: boolean; priceId?: string | null } = {}
): Promise<PlanToBuy | null> {
	const known = await planBySlug(app.db, slug);
	const places = { now: look.now, ...(buyer && { buyer }) };
	const [all = known] = known ? await withPlaces(app.db, [known], places) : [];
	const asked = all?.prices.find((price) => price.priceId === priceId)?.terms.currency ?? null;
	const wishes = [asked, look.currency ?? null, (await app.site()).currency];
	const plan = all && inCurrency(all, wishes);
	if (plan && !sellsTo(look.policy, look.viewer, plan, look.now)) return null;
	const currencies = currenciesOf(all?.prices ?? []);
	if (!plan || !isGift) return plan && { ...plan, currencies, opens: null };
	const gifts = plan.sellsAsGift
		? plan.prices.flatMap((price) => {
				const gift = giftOf(price.terms, plan.access);
				return gift ? [{ price: { ...price, terms: gift.terms }, access: gift.access }] : [];
			})
		: [];
	const [first] = gifts;
	if (!first) return null;
	return {
		...{ ...plan, currencies, price: first.price, prices: gifts.map(({ price }) => price) },
		opens: Object.fromEntries(gifts.map(({ price, access }) => [price.priceId, access]))
	};
}

/**
 * `opens`: how long each price opens it for somebody else; `null`: it is bought for oneself. Its prices are those of one of its
 * `currencies`.
 */
export type PlanToBuy = OfferedPlan & { opens: Record<string, PlanAccess> | null; currencies: string[] };

/** Whether a plan can be given at all. */
export function canBeGiven({ sellsAsGift, buyAt, prices, access }: OfferedPlan): boolean {
	return sellsAsGift && buyAt === null && prices.some(({ terms }) => giftOf(terms, access) !== null);
}
