import { and, eq, isNull } from 'drizzle-orm';
import type { Handle } from '../connect';
import { codeBatches, redemptions } from '../schema/access';
import { plans } from '../schema/sales';

/** The plan that a code gave to a device, while it waits to be kept in an account; `null`: there is none. */
export async function waitingPlan(db: Handle, redemptionId: string): Promise<string | null> {
	const [found] = await db
		.select({ name: plans.name })
		.from(redemptions)
		.innerJoin(codeBatches, eq(codeBatches.id, redemptions.batchId))
		.innerJoin(plans, eq(plans.id, codeBatches.planId))
		.where(and(eq(redemptions.id, redemptionId), isNull(redemptions.memberId)));
	return found?.name ?? null;
}

/** What a code has done, and for whom. */
export async function redemptionById(db: Handle, id: string) {
	const { memberId, deviceHash, batchId, at, until } = redemptions;
	const [found] = await db
		.select({ memberId, deviceHash, batchId, at, until, planId: codeBatches.planId, plan: plans.name })
		.from(redemptions)
		.innerJoin(codeBatches, eq(codeBatches.id, redemptions.batchId))
		.leftJoin(plans, eq(plans.id, codeBatches.planId))
		.where(eq(redemptions.id, id));
	return found ?? null;
}
