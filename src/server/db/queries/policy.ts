import { desc, inArray } from 'drizzle-orm';
import type { Fence, PolicySource } from '$core/access/model';
import type { Handle, Tx } from '../connect';
import { crossings, fences, policyVersions } from '../schema/access';
import { items } from '../schema/library';
import { plans } from '../schema/sales';
import { settings } from '../schema/running';

type FenceRow = typeof fences.$inferSelect;
type CrossingRow = typeof crossings.$inferSelect;

export async function allFences(db: Handle): Promise<Fence[]> {
	const rows = await db.select().from(fences).orderBy(desc(fences.createdAt));
	if (rows.length === 0) return [];
	const lines = await db
		.select()
		.from(crossings)
		.where(
			inArray(
				crossings.fenceId,
				rows.map((row) => row.id)
			)
		)
		.orderBy(crossings.position);
	return rows.map((row) => toFence(row, lines));
}

export function toFence(row: FenceRow, lines: readonly CrossingRow[]): Fence {
	const own = lines.filter((line) => line.fenceId === row.id);
	return { ...row, crossings: own.map(({ id, audience }) => ({ id, audience })) };
}

/** The sources of access as they stand in this transaction. */
async function policySource(db: Handle): Promise<PolicySource> {
	const itemRows = await db
		.select({
			id: items.id,
			kind: items.kind,
			state: items.state,
			publishAt: items.publishAt,
			base: items.base,
			address: items.address
		})
		.from(items);
	const planRows = await db
		.select({ id: plans.id, isPublic: plans.isPublic, isOnSale: plans.isOnSale })
		.from(plans);
	const [site] = await db.select().from(settings);
	return {
		items: itemRows,
		fences: await allFences(db),
		plans: planRows,
		defaultTurnAway: { kind: 'notice', text: site?.value.defaultNotice ?? '' }
	};
}

export async function writePolicyVersion(tx: Tx, at: number, cause: string): Promise<void> {
	await tx.insert(policyVersions).values({ at, cause, source: await policySource(tx) });
}

/** The policy in force: the last version written, or an empty one. */
export async function policyInForce(db: Handle): Promise<{ version: number; source: PolicySource }> {
	const [row] = await db.select().from(policyVersions).orderBy(desc(policyVersions.version)).limit(1);
	if (!row)
		return { version: 0, source: { items: [], fences: [], plans: [], defaultTurnAway: { kind: 'absent' } } };
	return { version: row.version, source: row.source };
}
