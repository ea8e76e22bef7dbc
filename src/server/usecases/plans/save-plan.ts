import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { slugOf } from '$core/access/address';
import type { AfterLapse, PolicySource } from '$core/access/model';
import type { Money } from '$core/billing/money';
import type { Actor, App } from '../../app';
import { planById, planBySlug } from '../../db/queries/sales';
import type { Handle } from '../../db/connect';
import { ladders, plans, prices, priceVersions } from '../../db/schema/sales';
import { transact, type Work } from '../../transact';
import { saveRehearsed, type KeptRehearsal } from '../access/rehearsed-save';

export interface PlanWish {
	name: string;
	lines: string[];
	price: Money;
	unit: 'month' | 'year';
	isPublic: boolean;
	isOnSale: boolean;
	afterLapse: AfterLapse;
	/** Name of the ladder it stands on; `null`: on none. A new name makes a new ladder. */
	ladder: string | null;
	rung: number;
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
			afterLapse: wish.afterLapse,
			ladderId: await ladderNamed(work, wish.ladder),
			rung: wish.rung,
			createdAt: work.now
		});
		await work.tx.insert(prices).values({ id: priceId, planId, isOnSale: true });
		await addVersion(work, priceId, 1, wish);
		await work.note({ action: 'created-plan', subject: { kind: 'plan', id: planId }, after: wish });
		work.policyChanged('plan created');
		return planId;
	});
}

export type EditedPlan =
	{ kind: 'saved' } | { kind: 'rehearsed'; rehearsal: KeptRehearsal } | { kind: 'refused'; code: 'unknown' };

/** A changed price is a new version: who bought at the old one keeps it. */
export async function editPlan(
	app: App,
	actor: Actor,
	planId: string,
	wish: PlanWish,
	agreedTo: number | null = null
): Promise<EditedPlan> {
	const before = await planById(app.db, planId);
	if (!before) return { kind: 'refused', code: 'unknown' };
	const ladderId = wish.ladder === null ? null : ((await findLadder(app.db, wish.ladder)) ?? wish.ladder);
	const change = (source: PolicySource): PolicySource => ({
		...source,
		plans: source.plans.map((plan) =>
			plan.id === planId
				? {
						...plan,
						isPublic: wish.isPublic,
						isOnSale: wish.isOnSale,
						afterLapse: wish.afterLapse,
						ladderId,
						rung: wish.rung
					}
				: plan
		)
	});
	const saved = await saveRehearsed(app, actor, agreedTo, change, async (work) => {
		await work.tx
			.update(plans)
			.set({
				name: wish.name,
				lines: wish.lines,
				isPublic: wish.isPublic,
				isOnSale: wish.isOnSale,
				afterLapse: wish.afterLapse,
				ladderId: await ladderNamed(work, wish.ladder),
				rung: wish.rung
			})
			.where(eq(plans.id, planId));
		const { priceId, version, amountMinor, currency, periodUnit } = before.price;
		const isSame =
			amountMinor === wish.price.minor && currency === wish.price.currency && periodUnit === wish.unit;
		if (!isSame) await addVersion(work, priceId, version + 1, wish);
		await work.note({ action: 'edited-plan', subject: { kind: 'plan', id: planId }, before, after: wish });
		work.policyChanged('plan edited');
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
}

async function findLadder(db: Handle, name: string): Promise<string | null> {
	const [row] = await db.select({ id: ladders.id }).from(ladders).where(eq(ladders.name, name));
	return row?.id ?? null;
}

async function ladderNamed({ tx }: Work, name: string | null): Promise<string | null> {
	if (name === null) return null;
	const known = await findLadder(tx, name);
	if (known) return known;
	const id = uuidv7();
	await tx.insert(ladders).values({ id, name });
	return id;
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
