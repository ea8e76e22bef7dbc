import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { slugOf } from '$core/access/address';
import type { Money } from '$core/billing/money';
import type { Actor, App } from '../../app';
import { planById, planBySlug } from '../../db/queries/sales';
import { plans, prices, priceVersions } from '../../db/schema/sales';
import { transact, type Work } from '../../transact';

export interface PlanWish {
	name: string;
	lines: string[];
	price: Money;
	unit: 'month' | 'year';
	isPublic: boolean;
	isOnSale: boolean;
}

export async function createPlan(app: App, actor: Actor, wish: PlanWish): Promise<string> {
	return transact(app, actor, async (work) => {
		const planId = uuidv7();
		const priceId = uuidv7();
		await work.tx.insert(plans).values({
			id: planId,
			name: wish.name,
			slug: await freeSlug(work, wish.name),
			lines: wish.lines,
			isPublic: wish.isPublic,
			isOnSale: wish.isOnSale,
			afterLapse: 'on',
			createdAt: work.now
		});
		await work.tx.insert(prices).values({ id: priceId, planId, isOnSale: true });
		await addVersion(work, priceId, 1, wish);
		await work.note({ action: 'created-plan', subject: { kind: 'plan', id: planId }, after: wish });
		work.policyChanged('plan created');
		return planId;
	});
}

/** A changed price is a new version: who bought at the old one keeps it. */
export async function editPlan(app: App, actor: Actor, planId: string, wish: PlanWish): Promise<boolean> {
	return transact(app, actor, async (work) => {
		const before = await planById(work.tx, planId);
		if (!before) return false;
		await work.tx
			.update(plans)
			.set({ name: wish.name, lines: wish.lines, isPublic: wish.isPublic, isOnSale: wish.isOnSale })
			.where(eq(plans.id, planId));
		const { priceId, version, amountMinor, currency, periodUnit } = before.price;
		const isSame =
			amountMinor === wish.price.minor && currency === wish.price.currency && periodUnit === wish.unit;
		if (!isSame) await addVersion(work, priceId, version + 1, wish);
		await work.note({ action: 'edited-plan', subject: { kind: 'plan', id: planId }, before, after: wish });
		work.policyChanged('plan edited');
		return true;
	});
}

async function addVersion(
	{ tx, now }: Work,
	priceId: string,
	version: number,
	wish: PlanWish
): Promise<void> {
	await tx.insert(priceVersions).values({
		priceId,
		version,
		amountMinor: wish.price.minor,
		currency: wish.price.currency,
		periodUnit: wish.unit,
		periodCount: 1,
		createdAt: now
	});
}

async function freeSlug({ tx }: Work, name: string): Promise<string> {
	const wish = slugOf(name).slice(0, 70) || 'plan';
	for (let n = 1; ; n++) {
		const slug = n === 1 ? wish : `${wish}-${n}`;
		if (!(await planBySlug(tx, slug))) return slug;
	}
}
