/** Plans as the front offers them, and what opens what stands in its lists. */
import { beginsAt, sellsAt, soldAt } from '$core/billing/plan-access';
import { lessFor } from '$core/billing/discount-code';
import { regularMinor, type Terms } from '$core/billing/terms';
import { endOfGrant } from '$core/access/clock';
import type { Decision, Verdict } from '$core/access/decision';
import { isCollection, type Grant, type GrantSource } from '$core/access/model';
import { includedFor } from '$core/access/included';
import { hasRedeemed, offersAt, takesAccount, takesCode } from '$core/access/offers';
import { openedByPlan } from '$core/access/policy';
import type { Passage } from '$core/access/walk';
import type { OfferedPlan, OfferedPrice } from '../../db/queries/sales';
import { isKnownTo, type ListEntry } from './lists';
import { decidingIn, type Look, type Looking } from '../../rights/look';
import { keptOut } from '../../rights/place';
import { shownInside, plansNow } from '../../rights/shown';

export interface Offer {
	plan: {
		id: string;
		name: string;
		slug: string;
		lines: string[];
		terms: Terms;
		/** For how many buyers that is, and how many of them may still come; `null`: for all. */
		first: First;
		/** What it may be bought at besides. */
		others: { terms: Terms; first: First }[];
		/** The host of the checkout elsewhere at which it is bought. */
		elsewhere: string | null;
		/** It opens the one thing that it was made for. */
		isAlone: boolean;
		/** When its selling closes, where it does. */
		closesAt: number | null;
		/** When it begins for all who buy it, where that is still to come. */
		begins: number | null;
		/** When it begins for the reader, who has bought it. */
		yoursFrom: number | null;
	};
	/** Said for the reader: who owns it opens it, who holds another rung moves, whose access ran out buys again. */
	action: {
		kind: 'plan.open' | 'plan.yours' | 'plan.move' | 'plan.buy' | 'plan.buy-again';
		href: string;
	};
	/** When it would open what is closed here, if not at once. */
	opensAt: number | null;
	/** All that it opens is open by what the viewer holds. */
	included: IncludedHere | null;
}

type First = { of: number; left: number } | null;

/** `by`: what the plan is called that opens all of it; `null`: several do together, or one that nobody is offered. */
export interface IncludedHere {
	by: string | null;
}

/** The same of one plan, by the plans that have a name on the front. */
export function includedHere(
	{ policy, viewer, now }: Look,
	planId: string,
	plans: readonly OfferedPlan[]
): IncludedHere | null {
	const found = includedFor(policy, viewer, planId, now);
	return found && { by: plans.find(({ id }) => id === found.by)?.name ?? null };
}

/** Plans that would open a place which is closed to whoever looks. `next`: where they want to land. */
export async function offersAtPlace(
	app: Looking,
	look: Look,
	placeId: string,
	next: string | null = null
): Promise<Offer[]> {
	const place = placeId.startsWith('/') ? null : await keptOut(app, placeId, look.client);
	const context = await app.rights.context(look.policy, look.viewer, placeId, place);
	const offers = offersAt(look.policy, look.viewer, placeId, look.now, context);
	const all = await plansNow(app, look);
	const plans = all.filter(
		(plan) => sellsAt(plan, look.now) && offers.some(({ planId }) => planId === plan.id)
	);
	return offersFor(look, plans, { next }, all).map((offer) => ({
		...offer,
		opensAt: offers.find(({ planId }) => planId === offer.plan.id)?.opensAt ?? null
	}));
}

/** What else than a plan would open a place to whoever looks, where they are turned away. */
export interface OtherWays {
	/** A code that they type. */
	code: boolean;
	/** A free account. */
	account: boolean;
}

export const NO_OTHER_WAYS: OtherWays = { code: false, account: false };

export async function otherWaysAt(app: Looking, look: Look, placeId: string): Promise<OtherWays> {
	const { policy, viewer, now, client } = look;
	const place = placeId.startsWith('/') ? null : await keptOut(app, placeId, client);
	const context = await app.rights.context(policy, viewer, placeId, place);
	return {
		code: takesCode(policy, viewer, placeId, now),
		account: takesAccount(policy, viewer, placeId, now, context)
	};
}

/** What an entry of a list says of the way in. */
export interface WayIn {
	/** Of a collection: how many of the things in it, at whatever depth, are open. */
	inside: { open: number; all: number } | null;
	/** The cheapest plan that opens it, or the first closed thing in it. */
	opensWith: { name: string; terms: Terms } | null;
	/** How many other plans do. */
	others: number;
}

/** Entries with what opens them; places that the same fences lead to are looked at once. */
export async function withWaysIn(
	app: Looking,
	look: Look,
	entries: readonly ListEntry[]
): Promise<(ListEntry & WayIn)[]> {
	const plans = await plansNow(app, look);
	const decide = await decidingIn(app, look);
	const known = new Map<object, Opening>();
	const openingOf = (id: string, verdict: Verdict): Opening => {
		const passage = look.policy.place(id)?.passage;
		if (!passage || verdict === 'open' || verdict === 'kept-out') return NO_OPENING;
		let way = known.get(passage);
		if (!way) {
			const offered = plansOpening(look, passage, id);
			way = cheapestOf(plans.filter((plan) => offered.includes(plan.id) && sellsAt(plan, look.now)));
			known.set(passage, way);
		}
		return way;
	};
	return Promise.all(
		entries.map(async (entry) => {
			const within = isCollection(entry.kind) ? await decidedWithin(app, decide, entry.id) : null;
			const closed = within?.find(({ verdict }) => verdict !== 'open');
			const own = openingOf(entry.id, entry.verdict);
			return {
				...entry,
				inside: within && {
					open: within.filter(({ verdict }) => verdict === 'open').length,
					all: within.length
				},
				...(own.opensWith === null && closed ? openingOf(closed.id, closed.verdict) : own)
			};
		})
	);
}

/** What lists say of plans to strangers is worked out once in so long; the page of the thing itself says it to the moment. */
const HINTS_FOR_MS = 10_000;

/** The last ones for a place, and the stretch that they are of. */
const hints = new WeakMap<Passage, { stretch: number; planIds: string[] }>();

/** Plans that would open a closed place, by the passage that leads to it. */
function plansOpening(look: Look, passage: Passage, placeId: string): string[] {
	const { viewer, policy, now } = look;
	const ask = () => offersAt(policy, viewer, placeId, now).map(({ planId }) => planId);
	if (viewer.kind !== 'stranger' || hasRedeemed(viewer)) return ask();
	const stretch = Math.floor(now / HINTS_FOR_MS);
	let known = hints.get(passage);
	if (known?.stretch !== stretch) hints.set(passage, (known = { stretch, planIds: ask() }));
	return known.planIds;
}

type Opening = Pick<WayIn, 'opensWith' | 'others'>;
const NO_OPENING: Opening = { opensWith: null, others: 0 };

/** What stands in a collection at whatever depth and may be known to whoever looks, sections and shelves apart. */
async function decidedWithin(
	app: Looking,
	decide: (id: string) => Decision | Promise<Decision>,
	id: string
): Promise<{ id: string; verdict: Verdict }[]> {
	const inside = await shownInside(app);
	const found: { id: string; verdict: Verdict }[] = [];
	const seen = new Set([id]);
	for (const home of seen)
		for (const { id: itemId, kind } of inside.get(home) ?? []) {
			seen.add(itemId);
			if (isCollection(kind)) continue;
			const decided = decide(itemId);
			// Thousands of them: what is known is not waited for.
			const decision = decided instanceof Promise ? await decided : decided;
			if (isKnownTo(decision)) found.push({ id: itemId, verdict: decision.verdict });
		}
	return found;
}

function cheapestOf(plans: readonly OfferedPlan[]): Opening {
	const [cheapest, ...others] = [...plans].sort(
		(a, b) => regularMinor(a.price.terms) - regularMinor(b.price.terms)
	);
	if (!cheapest) return NO_OPENING;
	return { opensWith: { name: cheapest.name, terms: cheapest.price.terms }, others: others.length };
}

/** What goes along to where one buys. */
export interface Carried {
	/** Where they want to land. */
	next?: string | null;
	/** What takes something off. */
	code?: string | null;
}

/**
 * Plans as they are offered to one viewer.
 * @param all every plan that has a name on the front
 */
export function offersFor(
	look: Look,
	plans: readonly OfferedPlan[],
	carried: Carried,
	all: readonly OfferedPlan[]
): Offer[] {
	const { viewer, now, policy } = look;
	// What a code gave to a device is not theirs yet: it is sold to them, and takes nothing off.
	const grants = viewer.kind === 'member' ? viewer.grants : [];
	const runs = (grant: (typeof grants)[number]) => grant.from <= now && (endOfGrant(grant) ?? Infinity) > now;
	const held = new Set(grants.filter(runs).map(({ planId }) => planId));
	return plans.map((plan) => {
		const { id, name, slug, lines } = plan;
		const own = grants.filter((grant) => grant.planId === id && grant.from <= now);
		const isHeld = held.has(id);
		const buy = plan.buyAt ?? `/checkout/${slug}${queryOf({ ...carried, currency: look.currency })}`;
		const less = (price: Terms) =>
			isHeld || plan.buyAt !== null ? price : lessFor(price, plan.lessFor, held);
		// What was bought for a day to come is theirs by now.
		const later = grants.find((grant) => grant.planId === id && grant.from > now && endsAfterIt(grant));
		const begins = beginsAt(plan, now);
		const action = isHeld
			? {
					kind: 'plan.open' as const,
					href: openedByPlan(policy, id).find((one) => one.state === 'published')?.address ?? '/account'
				}
			: later
				? { kind: 'plan.yours' as const, href: '/account' }
				: { kind: wayTo(own, holdsRung(look, plan)), href: buy };
		const others = plan.prices
			.filter((one) => one !== plan.price)
			.map((one) => ({ terms: less(one.terms), first: firstOf(one) }));
		const sold = soldAt(plan, now);
		const elsewhere = isHeld || plan.buyAt === null ? null : new URL(plan.buyAt).host;
		return {
			plan: {
				id,
				name,
				slug,
				lines,
				terms: less(plan.price.terms),
				first: isHeld || later ? null : firstOf(plan.price),
				others,
				elsewhere,
				isAlone: plan.soleItemId !== null,
				closesAt: sold.kind === 'now' ? sold.until : null,
				begins: begins > now && !later ? begins : null,
				yoursFrom: later?.from ?? null
			},
			...{ action, opensAt: null, included: includedHere(look, id, all) }
		};
	});
}

/** For how many buyers a price is, and how many of them may still come; `null`: for all. */
function firstOf({ firstBuyers, left }: OfferedPrice): First {
	return firstBuyers === null ? null : { of: firstBuyers, left: left ?? firstBuyers };
}

function endsAfterIt(grant: Grant): boolean {
	return (endOfGrant(grant) ?? Infinity) > grant.from;
}

function queryOf({ next, code, currency }: Carried & { currency?: string | undefined }): string {
	const query = new URLSearchParams({
		...(next ? { next } : {}),
		...(code ? { code } : {}),
		// Within another site no cookie says it.
		...(currency ? { currency } : {})
	}).toString();
	return query === '' ? '' : `?${query}`;
}

function wayTo(own: readonly unknown[], holdsRung: boolean): 'plan.move' | 'plan.buy' | 'plan.buy-again' {
	if (holdsRung) return 'plan.move';
	return own.length > 0 ? 'plan.buy-again' : 'plan.buy';
}

/** Whether the viewer has bought another rung of the plan's ladder: the checkout leads them to where one moves. */
function holdsRung({ viewer, policy, now }: Look, { id, ladderId }: OfferedPlan): boolean {
	if (viewer.kind !== 'member' || ladderId === null) return false;
	const rungs = policy.source.plans.filter((one) => one.ladderId === ladderId && one.id !== id);
	return viewer.grants.some(
		(grant) =>
			BOUGHT.has(grant.source) &&
			rungs.some((one) => one.id === grant.planId) &&
			grant.from <= now &&
			(endOfGrant(grant) ?? Infinity) > now
	);
}

const BOUGHT: ReadonlySet<GrantSource> = new Set(['order', 'subscription']);
