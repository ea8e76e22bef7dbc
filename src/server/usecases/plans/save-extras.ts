/** What buyers of a plan are offered besides when they have paid, as the publisher sets it. */
import { and, eq, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { MOST_EXTRAS } from '$core/billing/extra';
import { isOffOf, type Discount } from '$core/billing/discount';
import { DONE, notDone, type Done } from '../../done';
import { extrasOf, planIdOfPrice } from '../../db/queries/extras';
import { planById } from '../../db/queries/sales';
import { extras, plans } from '../../db/schema/sales';
import { need, type Staff } from '../../people/need';
import { transact, type Transacting, type Work } from '../../transact';

export interface ExtraWish {
	/** What is offered, by its price. */
	priceId: string;
	/** What is said of it. */
	words: string;
	/** What is taken off it there; `null`: nothing. */
	less: Discount | null;
}

export type ExtraProblem =
	| 'unknown'
	/** The plan is offered after itself. */
	| 'itself'
	| 'elsewhere'
	| 'twice'
	| 'too-many'
	/** What is taken off is of another currency. */
	| 'other-currency';

export async function addExtra(
	app: Transacting,
	actor: Staff,
	planId: string,
	wish: ExtraWish
): Promise<{ ok: true } | { ok: false; code: ExtraProblem }> {
	need(actor, 'plans');
	const { priceId, words, less } = wish;
	const targetId = await planIdOfPrice(app.db, priceId);
	const target = targetId === null ? null : await planById(app.db, targetId);
	const price = target?.prices.find((one) => one.priceId === priceId);
	if (!target || !price) return { ok: false, code: 'unknown' };
	if (target.id === planId) return { ok: false, code: 'itself' };
	if (target.buyAt !== null) return { ok: false, code: 'elsewhere' };
	if (less && !isOffOf(less, price.terms.currency)) return { ok: false, code: 'other-currency' };
	return transact(app, actor, async (work) => {
		const known = await lockedExtras(work, planId);
		if (!known) return { ok: false, code: 'unknown' };
		if (known.some((one) => one.priceId === priceId)) return { ok: false, code: 'twice' };
		if (known.length >= MOST_EXTRAS) return { ok: false, code: 'too-many' };
		const id = uuidv7();
		const position = (known.at(-1)?.position ?? 0) + 1;
		await work.tx.insert(extras).values({ id, planId, priceId, words, less, position, createdAt: work.now });
		await noted(work, planId, null, { offers: target.name, words, less });
		return { ok: true };
	});
}

/** What was answered stays known. */
export async function endExtra(app: Transacting, actor: Staff, planId: string, id: string): Promise<Done> {
	need(actor, 'plans');
	return transact(app, actor, async (work) => {
		const known = await lockedExtras(work, planId);
		if (!known?.some((one) => one.id === id)) return notDone('unknown');
		await work.tx
			.update(extras)
			.set({ endedAt: work.now })
			.where(and(eq(extras.id, id), isNull(extras.endedAt)));
		await noted(work, planId, { offers: id }, null);
		return DONE;
	});
}

/** Offers it before the others. */
export async function putExtraFirst(
	app: Transacting,
	actor: Staff,
	planId: string,
	id: string
): Promise<Done> {
	need(actor, 'plans');
	return transact(app, actor, async (work) => {
		const known = await lockedExtras(work, planId);
		const first = known?.find((one) => one.id === id);
		if (!known || !first) return notDone('unknown');
		const order = [first, ...known.filter((one) => one !== first)];
		for (const [n, one] of order.entries())
			await work.tx
				.update(extras)
				.set({ position: n + 1 })
				.where(eq(extras.id, one.id));
		await noted(
			work,
			planId,
			known.map((one) => one.id),
			order.map((one) => one.id)
		);
		return DONE;
	});
}

/** Behind the plan's lock; `null`: there is no such plan. */
async function lockedExtras({ tx }: Work, planId: string) {
	const [plan] = await tx.select({ id: plans.id }).from(plans).where(eq(plans.id, planId)).for('update');
	return plan ? extrasOf(tx, planId) : null;
}

async function noted(work: Work, planId: string, before: unknown, after: unknown): Promise<void> {
	await work.note({ action: 'edited-plan', subject: { kind: 'plan', id: planId }, before, after });
}
