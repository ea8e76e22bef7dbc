import { desc, eq, inArray, lte } from 'drizzle-orm';
import type { Fence, PolicySource, Release } from '$core/access/model';
import { EMPTY_SOURCE } from '$core/access/policy';
import type { Handle, Tx } from '../connect';
import { crossings, fences, policyVersions, releases } from '../schema/access';
import { items, itemTags } from '../schema/library';
import { plans } from '../schema/sales';
import { settings } from '../schema/running';

type FenceRow = typeof fences.$inferSelect;
type CrossingRow = typeof crossings.$inferSelect;

/** A fence as the Desk edits it: with the number of its last save. */
export type KeptFence = Fence & { revision: number };

/** Newest first. */
export async function allFences(db: Handle): Promise<KeptFence[]> {
	const rows = await db.select().from(fences).orderBy(desc(fences.createdAt), desc(fences.id));
	return withCrossings(db, rows);
}

export async function fenceById(db: Handle, id: string): Promise<KeptFence | null> {
	const rows = await db.select().from(fences).where(eq(fences.id, id));
	return (await withCrossings(db, rows))[0] ?? null;
}

async function withCrossings(db: Handle, rows: FenceRow[]): Promise<KeptFence[]> {
	if (rows.length === 0) return [];
	const ids = rows.map((row) => row.id);
	const lines = await db
		.select()
		.from(crossings)
		.where(inArray(crossings.fenceId, ids))
		.orderBy(crossings.position);
	const byFence = new Map<string, CrossingRow[]>();
	for (const line of lines) byFence.set(line.fenceId, [...(byFence.get(line.fenceId) ?? []), line]);
	return rows.map((row) => ({
		...row,
		crossings: (byFence.get(row.id) ?? []).map(({ id, audience, window, limits, isThroughout }) => ({
			id,
			audience,
			window,
			limits,
			isThroughout
		}))
	}));
}

export async function allReleases(db: Handle): Promise<Release[]> {
	const rows = await db.select().from(releases).orderBy(releases.id);
	return rows.map(({ id, planId, targetKind, targetId, window }) => ({
		id,
		planId,
		target: { kind: targetKind, id: targetId },
		window
	}));
}

/** The sources of access as they stand in this transaction. */
export async function policySource(db: Handle): Promise<PolicySource> {
	const tagged = new Map<string, string[]>();
	for (const { itemId, tagId } of await db.select().from(itemTags))
		tagged.set(itemId, [...(tagged.get(itemId) ?? []), tagId]);
	const rows = await db
		.select({
			id: items.id,
			kind: items.kind,
			state: items.state,
			publishAt: items.publishAt,
			base: items.base,
			address: items.address,
			homeId: items.homeId,
			categoryId: items.categoryId,
			extension: items.extension
		})
		.from(items)
		.orderBy(items.createdAt, items.id);
	const [site] = await db.select().from(settings);
	const { turnAway, limits, zone, releaseHour, lapseAfterDays } = site?.value ?? EMPTY_SOURCE;
	return {
		resources: rows.map((row) => ({ ...row, tagIds: tagged.get(row.id) ?? [] })),
		fences: (await allFences(db)).map(({ revision: _, ...fence }) => fence),
		plans: await db
			.select({
				id: plans.id,
				isPublic: plans.isPublic,
				isOnSale: plans.isOnSale,
				ladderId: plans.ladderId,
				rung: plans.rung,
				afterLapse: plans.afterLapse
			})
			.from(plans),
		releases: await allReleases(db),
		turnAway,
		limits,
		zone,
		releaseHour,
		lapseAfterDays
	};
}

/** `at`: by the business clock, like everything that decisions are taken for. */
export async function writePolicyVersion(tx: Tx, at: number, cause: string): Promise<void> {
	await tx.insert(policyVersions).values({ at, cause, source: await policySource(tx) });
}

export interface PolicyVersion {
	version: number;
	source: PolicySource;
}

/** The policy in force: the last version written, or an empty one. */
export async function policyInForce(db: Handle): Promise<PolicyVersion> {
	const [row] = await db.select().from(policyVersions).orderBy(desc(policyVersions.version)).limit(1);
	return row ?? { version: 0, source: EMPTY_SOURCE };
}

/** The number of the policy in force. */
export async function policyVersionNumber(db: Handle): Promise<number> {
	const [row] = await db
		.select({ version: policyVersions.version })
		.from(policyVersions)
		.orderBy(desc(policyVersions.version))
		.limit(1);
	return row?.version ?? 0;
}

/** The rules of then: the version that was in force at a moment. */
export async function policyAt(db: Handle, at: number): Promise<PolicyVersion> {
	const [row] = await db
		.select()
		.from(policyVersions)
		.where(lte(policyVersions.at, at))
		.orderBy(desc(policyVersions.version))
		.limit(1);
	return row ?? { version: 0, source: EMPTY_SOURCE };
}
