/** What may be taken off a price for somebody: a code that they typed, and what they hold. */
import { and, eq, gt, inArray, isNull, lte, or, sql } from 'drizzle-orm';
import { normaliseCode } from '$core/access/batches';
import type { Discount } from '$core/billing/discount';
import type { Offers, TypedCode } from '$core/billing/discount-code';
import type { Handle } from '../connect';
import { codeBatches, codes, grants } from '../schema/access';
import { orders, type plans } from '../schema/sales';
import { butNot, isBuyers, takes, type Buyer, type Except } from './taking';

export interface OffersAsk extends Buyer {
	plan: Pick<typeof plans.$inferSelect, 'lessFor'>;
	/** Empty: no code. */
	typed: string;
	now: number;
	except?: Except;
}

/** @param isLocked whoever asks next waits until this one has ordered */
export async function offersTo(db: Handle, ask: OffersAsk, isLocked = false): Promise<Offers> {
	return { typed: await typedCode(db, ask, isLocked), forHolding: await lessForHolding(db, ask) };
}

async function typedCode(db: Handle, ask: OffersAsk, isLocked: boolean): Promise<TypedCode> {
	const text = normaliseCode(ask.typed);
	if (text === '') return { kind: 'none' };
	const found = db
		.select({ id: codes.id, batch: codeBatches })
		.from(codes)
		.innerJoin(codeBatches, eq(codeBatches.id, codes.batchId))
		.where(eq(codes.code, text));
	const [row] = isLocked ? await found.for('update') : await found;
	if (!row) return { kind: 'unknown' };
	const { discount, offPlans, ...batch } = row.batch;
	if (!discount) return { kind: 'gives' };
	return {
		...{ kind: 'code', id: row.id },
		code: { ...batch, discount, planIds: offPlans },
		uses: await usesOf(db, row.id, ask),
		hasUsed: batch.isOncePerBuyer && (await hasUsed(db, batch.id, ask))
	};
}

/** The code that took something off an order; `null`: none did. */
export async function codeOfOrder(
	db: Handle,
	{ codeId }: { codeId: string | null }
): Promise<{ code: string; batchId: string } | null> {
	if (codeId === null) return null;
	const [row] = await db
		.select({ code: codes.code, batchId: codes.batchId })
		.from(codes)
		.where(eq(codes.id, codeId));
	return row ?? null;
}

async function usesOf(db: Handle, codeId: string, ask: OffersAsk): Promise<number> {
	const [row] = await db
		.select({ uses: sql<number>`count(*)`.mapWith(Number) })
		.from(orders)
		.where(and(eq(orders.codeId, codeId), takes(ask.now), butNot(ask, ask.except)));
	return row?.uses ?? 0;
}

/** Whether the buyer has used any code of a batch. */
async function hasUsed(db: Handle, batchId: string, ask: OffersAsk): Promise<boolean> {
	const [row] = await db
		.select({ id: orders.id })
		.from(orders)
		.innerJoin(codes, eq(codes.id, orders.codeId))
		.where(and(isBuyers(ask), eq(codes.batchId, batchId), takes(ask.now), butNot(ask, ask.except)))
		.limit(1);
	return row !== undefined;
}

async function lessForHolding(db: Handle, { plan, memberId, now }: OffersAsk): Promise<Discount | null> {
	const { lessFor } = plan;
	if (!lessFor || memberId === null || lessFor.planIds.length === 0) return null;
	const [held] = await db
		.select({ id: grants.id })
		.from(grants)
		.where(
			and(
				eq(grants.memberId, memberId),
				inArray(grants.planId, [...lessFor.planIds]),
				isNull(grants.revokedAt),
				lte(grants.from, now),
				or(isNull(grants.until), gt(grants.until, now))
			)
		)
		.limit(1);
	return held ? lessFor.discount : null;
}
