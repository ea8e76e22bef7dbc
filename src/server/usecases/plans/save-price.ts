/** Prices of a plan beside its first, which is saved with it: the same rights for another amount, or in another rhythm. */
import { isDeepStrictEqual } from 'node:util';
import { and, eq, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { Terms } from '$core/billing/terms';
import { pricesOf, type OfferedPrice } from '../../db/queries/sales';
import { plans, prices } from '../../db/schema/sales';
import { need, type Staff } from '../../people/need';
import { transact, type Transacting, type Work } from '../../transact';
import { endOpenOrders } from '../sales/end-pay-page';
import { addVersion } from './save-plan';

export interface PriceWish {
	/** What buyers choose it by. */
	name: string;
	terms: Terms;
	/** For so many buyers it is, the first; `null` and left out: for all. */
	firstBuyers?: number | null;
}

/** Of one currency: more are a mistake, for buyers cannot choose. */
export const MOST_PRICES = 8;

export type SavedPrice =
	| { ok: true; priceId: string }
	/** `last`: what is on sale has a price. */
	/** `needs-name`: buyers choose between it and another one of its currency. */
	| { ok: false; code: 'unknown' | 'too-many' | 'same-name' | 'needs-name' | 'last' };

/** @param priceId of one that is there; `null`: another one */
export async function savePrice(
	app: Transacting,
	actor: Staff,
	planId: string,
	priceId: string | null,
	wish: PriceWish
): Promise<SavedPrice> {
	need(actor, 'plans');
	return transact(app, actor, async (work): Promise<SavedPrice> => {
		const all = await lockedPrices(work, planId);
		if (!all) return { ok: false, code: 'unknown' };
		const beside = all.filter((one) => one.isOnSale && one.priceId !== priceId && isOf(one, wish.terms));
		if (wish.name === '' && beside.length > 0) return { ok: false, code: 'needs-name' };
		if (beside.some(({ name }) => name === wish.name)) return { ok: false, code: 'same-name' };
		const known = all.find((one) => one.priceId === priceId) ?? null;
		if (priceId !== null && !known) return { ok: false, code: 'unknown' };
		if (!known && beside.length >= MOST_PRICES) return { ok: false, code: 'too-many' };
		const id = known?.priceId ?? uuidv7();
		if (known) await change(work, planId, known, wish);
		else await add(work, planId, id, wish);
		const { name, terms, firstBuyers } = known ?? wish;
		await noted(work, planId, known && { name, terms, firstBuyers }, wish);
		return { ok: true, priceId: id };
	});
}

function isOf({ terms }: OfferedPrice, { currency }: Terms): boolean {
	return terms.currency === currency;
}

async function add(work: Work, planId: string, id: string, wish: PriceWish): Promise<void> {
	const { name, terms, firstBuyers = null } = wish;
	const last = sql<number>`(select coalesce(max(position), 0) from prices p where p.plan_id = ${planId})`;
	const [row] = await work.tx
		.select({ last: last.mapWith(Number) })
		.from(plans)
		.where(eq(plans.id, planId));
	const position = (row?.last ?? 0) + 1;
	await work.tx.insert(prices).values({ id, planId, name, position, firstBuyers, isOnSale: true });
	await addVersion(work, id, 1, terms);
}

async function change(work: Work, planId: string, known: OfferedPrice, wish: PriceWish): Promise<void> {
	const { name, firstBuyers = null } = wish;
	await work.tx.update(prices).set({ name, firstBuyers }).where(eq(prices.id, known.priceId));
	if (isDeepStrictEqual(known.terms, wish.terms)) return;
	await addVersion(work, known.priceId, known.version + 1, wish.terms);
	await endOpenOrders(work, planId);
}

/** Sells a price again, or no more: who has bought at it keeps it. */
export async function offerPrice(
	app: Transacting,
	actor: Staff,
	planId: string,
	priceId: string,
	isOnSale: boolean
): Promise<SavedPrice> {
	need(actor, 'plans');
	return transact(app, actor, async (work): Promise<SavedPrice> => {
		const all = await lockedPrices(work, planId);
		const known = all?.find((one) => one.priceId === priceId);
		if (!all || !known) return { ok: false, code: 'unknown' };
		const others = all.filter((one) => one.isOnSale && one.priceId !== priceId);
		if (!isOnSale && others.length === 0) return { ok: false, code: 'last' };
		const beside = others.filter((one) => isOf(one, known.terms));
		if (isOnSale && beside.length >= MOST_PRICES) return { ok: false, code: 'too-many' };
		await work.tx
			.update(prices)
			.set({ isOnSale })
			.where(and(eq(prices.id, priceId), eq(prices.planId, planId)));
		if (!isOnSale) await endOpenOrders(work, planId);
		await noted(
			work,
			planId,
			{ price: known.name, isOnSale: known.isOnSale },
			{ price: known.name, isOnSale }
		);
		return { ok: true, priceId };
	});
}

/** Makes a price the one that is chosen first, and that lists name. */
export async function putPriceFirst(
	app: Transacting,
	actor: Staff,
	planId: string,
	priceId: string
): Promise<SavedPrice> {
	need(actor, 'plans');
	return transact(app, actor, async (work): Promise<SavedPrice> => {
		const all = await lockedPrices(work, planId);
		const known = all?.find((one) => one.priceId === priceId);
		if (!all || !known) return { ok: false, code: 'unknown' };
		const order = [known, ...all.filter((one) => one !== known)];
		for (const [position, one] of order.entries())
			await work.tx.update(prices).set({ position }).where(eq(prices.id, one.priceId));
		await noted(work, planId, { first: all[0]?.name }, { first: known.name });
		return { ok: true, priceId };
	});
}

/** Behind the plan's lock; `null`: there is no such plan. */
async function lockedPrices({ tx }: Work, planId: string): Promise<OfferedPrice[] | null> {
	const [plan] = await tx.select({ id: plans.id }).from(plans).where(eq(plans.id, planId)).for('update');
	return plan ? pricesOf(tx, planId) : null;
}

/** Lists say what plans cost. */
async function noted(work: Work, planId: string, before: unknown, after: unknown): Promise<void> {
	await work.note({ action: 'edited-plan', subject: { kind: 'plan', id: planId }, before, after });
	work.contentChanged();
}
