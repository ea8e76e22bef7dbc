import { gunzipSync, gzipSync } from 'node:zlib';
import { and, count, desc, eq, gt, lt, inArray, lte, max } from 'drizzle-orm';
import {
	applied,
	siteOf,
	type Change,
	type Delta,
	type EntityKind,
	type SiteRules
} from '$core/access/delta';
import {
	type AccessPlan,
	OWN_SITE_ID,
	type Fence,
	type NamedMember,
	type PolicySource,
	type Release,
	type Resource
} from '$core/access/model';
import { type NamingChange } from '$core/access/namings';
import { EMPTY_SOURCE } from '$core/access/policy';
import type { Db, Handle, Tx } from '../connect';
import {
	crossings,
	fences,
	namings,
	policyBases,
	policyChanges,
	policyVersions,
	releases,
	rightsCounter
} from '../schema/access';
import { items, itemTags } from '../schema/library';
import { plans } from '../schema/sales';
import { settings } from '../schema/running';

type FenceRow = typeof fences.$inferSelect;
type CrossingRow = typeof crossings.$inferSelect;

/** A fence with the number of its last save. */
export type KeptFence = Fence & { revision: number };

/** As the Desk edits it: with the members that its crossings name. */
export type EditedFence = KeptFence & { named: NamedMember[] };

/** Newest first. */
export async function allFences(db: Handle): Promise<KeptFence[]> {
	const rows = await db.select().from(fences).orderBy(desc(fences.createdAt), desc(fences.id));
	return withCrossings(db, rows);
}

export async function fenceById(db: Handle, id: string): Promise<EditedFence | null> {
	const rows = await db.select().from(fences).where(eq(fences.id, id));
	const [fence] = await withCrossings(db, rows);
	return fence ? { ...fence, named: await namedIn(db, fence.crossings) } : null;
}

/** The members that some crossings name. */
export async function namedIn(db: Handle, some: readonly { id: string }[]): Promise<NamedMember[]> {
	if (some.length === 0) return [];
	const ids = some.map(({ id }) => id);
	return db.select().from(namings).where(inArray(namings.crossingId, ids)).orderBy(namings.memberId);
}

/** How many members each of some crossings names. */
export async function namedCounts(db: Handle, some: readonly { id: string }[]): Promise<Map<string, number>> {
	if (some.length === 0) return new Map();
	const rows = await db
		.select({ id: namings.crossingId, count: count() })
		.from(namings)
		.where(
			inArray(
				namings.crossingId,
				some.map(({ id }) => id)
			)
		)
		.groupBy(namings.crossingId);
	return new Map(rows.map(({ id, count }) => [id, count]));
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
	return (await db.select().from(releases).orderBy(releases.id)).map(toRelease);
}

function toRelease({ id, planId, targetKind, targetId, window }: typeof releases.$inferSelect): Release {
	return { id, planId, target: { kind: targetKind, id: targetId }, window };
}

const RESOURCE = {
	id: items.id,
	kind: items.kind,
	state: items.state,
	publishAt: items.publishAt,
	base: items.base,
	siteId: items.siteId,
	address: items.address,
	homeId: items.homeId,
	categoryId: items.categoryId,
	extension: items.extension
};

const PLAN = {
	id: plans.id,
	isPublic: plans.isPublic,
	isOnSale: plans.isOnSale,
	ladderId: plans.ladderId,
	rung: plans.rung,
	afterLapse: plans.afterLapse,
	soldTo: plans.soldTo,
	firstDay: plans.firstDay,
	givenFrom: plans.givenFrom,
	access: plans.access
};

/** How long it opens counts where it is given to every new account. */
function planOf({
	soldTo,
	firstDay,
	givenFrom,
	access,
	...rest
}: Pick<typeof plans.$inferSelect, keyof typeof PLAN>): AccessPlan {
	const plan = {
		...rest,
		...(soldTo === null ? {} : { soldTo }),
		...(firstDay === null ? {} : { firstDay })
	};
	return givenFrom === null ? plan : { ...plan, given: { since: givenFrom, access } };
}

const AT_ONCE = 1000;

/** What decides of these resources, by id. */
async function resourcesByIds(db: Handle, ids: readonly string[]): Promise<Map<string, Resource>> {
	const found = new Map<string, Resource>();
	for (let n = 0; n < ids.length; n += AT_ONCE) {
		const some = ids.slice(n, n + AT_ONCE);
		const tagged = tagsByItem(await db.select().from(itemTags).where(inArray(itemTags.itemId, some)));
		for (const row of await db.select(RESOURCE).from(items).where(inArray(items.id, some)))
			found.set(row.id, resourceOf(row, tagged.get(row.id) ?? []));
	}
	return found;
}

/** Stile's own site stands in rows, and nowhere else. */
function resourceOf(
	{ siteId, ...row }: Omit<Resource, 'tagIds'> & { siteId: string },
	tagIds: string[]
): Resource {
	return siteId === OWN_SITE_ID ? { ...row, tagIds } : { ...row, siteId, tagIds };
}

function tagsByItem(rows: readonly { itemId: string; tagId: string }[]): Map<string, string[]> {
	const tagged = new Map<string, string[]>();
	for (const { itemId, tagId } of rows) {
		const known = tagged.get(itemId);
		if (known) known.push(tagId);
		else tagged.set(itemId, [tagId]);
	}
	// The order in which they were given is nobody's: two nodes say the same of the same item.
	for (const ids of tagged.values()) ids.sort();
	return tagged;
}

/** The sources of access as their tables have them. What is in force is what the changes say: `policyInForce`. */
export async function policySource(db: Handle): Promise<PolicySource> {
	const tagged = tagsByItem(await db.select().from(itemTags));
	const rows = await db.select(RESOURCE).from(items).orderBy(items.createdAt, items.id);
	return {
		...(await siteRules(db)),
		resources: rows.map((row) => resourceOf(row, tagged.get(row.id) ?? [])),
		fences: (await allFences(db)).map(withoutRevision).reverse(),
		plans: (await db.select(PLAN).from(plans).orderBy(plans.createdAt, plans.id)).map(planOf),
		releases: await allReleases(db)
	};
}

function withoutRevision({ revision: _, ...fence }: KeptFence): Fence {
	return fence;
}

async function siteRules(db: Handle): Promise<SiteRules> {
	const [site] = await db.select().from(settings);
	return siteOf({ ...EMPTY_SOURCE, ...(site?.value ?? {}) });
}

/** What a transaction has touched of the policy, by kind and id. */
export interface Touched {
	resources?: readonly string[];
	fences?: readonly string[];
	plans?: readonly string[];
	releases?: readonly string[];
	/** What stands with members and changes with a fence: said by whoever wrote it. */
	namings?: readonly NamingChange[];
	site?: boolean;
}

/** What is touched, as its rows are by now in this transaction. */
export async function entitiesOf(
	db: Handle,
	touched: Required<Omit<Touched, 'namings'>>
): Promise<{ kind: EntityKind; id: string; after: Change['after'] }[]> {
	const entities: { kind: EntityKind; id: string; after: Change['after'] }[] = [];
	const add = (
		kind: EntityKind,
		ids: readonly string[],
		found: Map<string, NonNullable<Change['after']>>
	) => {
		for (const id of ids) entities.push({ kind, id, after: found.get(id) ?? null });
	};
	if (touched.resources.length > 0)
		add('resource', touched.resources, await resourcesByIds(db, touched.resources));
	if (touched.fences.length > 0) {
		const rows = await db
			.select()
			.from(fences)
			.where(inArray(fences.id, [...touched.fences]));
		add('fence', touched.fences, byId((await withCrossings(db, rows)).map(withoutRevision)));
	}
	if (touched.plans.length > 0)
		add(
			'plan',
			touched.plans,
			byId(
				(
					await db
						.select(PLAN)
						.from(plans)
						.where(inArray(plans.id, [...touched.plans]))
				).map(planOf)
			)
		);
	if (touched.releases.length > 0) {
		const rows = await db
			.select()
			.from(releases)
			.where(inArray(releases.id, [...touched.releases]));
		add('release', touched.releases, byId(rows.map(toRelease)));
	}
	if (touched.site) entities.push({ kind: 'site', id: '', after: await siteRules(db) });
	return entities;
}

function byId<T extends { id: string }>(rows: readonly T[]): Map<string, T> {
	return new Map(rows.map((row) => [row.id, row]));
}

export interface PolicyVersion {
	version: number;
	source: PolicySource;
}

/** Locks the row of the counter; gives the number of the policy in force. Last in a transaction, and briefly. */
export async function lockPolicy(tx: Tx): Promise<number> {
	const [row] = await tx.select({ value: rightsCounter.value }).from(rightsCounter).for('update');
	if (!row) throw new Error('The counter of rights is missing: run the migrations');
	return row.value;
}

/** Under the lock of `lockPolicy`. `at`: by the business clock, like everything that decisions are taken for. */
export async function writePolicyChange(
	tx: Tx,
	change: { version: number; at: number; cause: string; actorId: string | null; delta: Delta }
): Promise<void> {
	await tx.insert(policyChanges).values(change);
	await tx.update(rightsCounter).set({ value: change.version });
}

export interface PolicyStep {
	version: number;
	at: number;
	delta: Delta;
}

/** Changes after a version, oldest first. */
export async function policyChangesAfter(db: Handle, version: number): Promise<PolicyStep[]> {
	return db
		.select({ version: policyChanges.version, at: policyChanges.at, delta: policyChanges.delta })
		.from(policyChanges)
		.where(gt(policyChanges.version, version))
		.orderBy(policyChanges.version)
		.then((steps) => steps.map((step) => ({ ...step, delta: step.delta.map(withoutNames) })));
}

/** `null`: there is no such version. */
export async function policyChange(
	db: Handle,
	version: number
): Promise<{ version: number; delta: Delta } | null> {
	const [row] = await db
		.select({ version: policyChanges.version, delta: policyChanges.delta })
		.from(policyChanges)
		.where(eq(policyChanges.version, version));
	return row ? { version: row.version, delta: row.delta.map(withoutNames) } : null;
}

/** The last changes, newest first, before a version if one is named. */
export async function lastPolicyChanges(db: Handle, count: number, before: number | null) {
	const rows = await db
		.select()
		.from(policyChanges)
		.where(before === null ? undefined : lt(policyChanges.version, before))
		.orderBy(desc(policyChanges.version))
		.limit(count);
	return rows.map((row) => ({ ...row, delta: row.delta.map(withoutNames) }));
}

/** Names stood in crossings once, and still do in what was written then. They stand with the members now. */
function withoutNames(change: Change): Change {
	if (change.kind !== 'fence') return change;
	const { before, after } = change;
	return { ...change, before: before && unnamed(before), after: after && unnamed(after) };
}

function unnamed(fence: Fence): Fence {
	if (!fence.crossings.some(({ audience }) => 'members' in audience)) return fence;
	const crossings = fence.crossings.map((one) =>
		one.audience.kind === 'named' ? { ...one, audience: { kind: 'named' as const } } : one
	);
	return { ...fence, crossings };
}

/** The number of the policy in force. */
export async function policyVersionNumber(db: Handle): Promise<number> {
	const [row] = await db.select({ value: rightsCounter.value }).from(rightsCounter);
	return row?.value ?? 0;
}

/** The policy in force: the last base, and every change since. */
export async function policyInForce(db: Handle): Promise<PolicyVersion> {
	return policyUpTo(db, null);
}

/** The rules of then: the version that was in force at a moment. */
export async function policyAt(db: Handle, at: number): Promise<PolicyVersion> {
	return policyUpTo(db, at);
}

async function policyUpTo(db: Handle, at: number | null): Promise<PolicyVersion> {
	const base = await baseBefore(db, at);
	const steps = await db
		.select({ version: policyChanges.version, delta: policyChanges.delta })
		.from(policyChanges)
		.where(and(gt(policyChanges.version, base.version), at === null ? undefined : lte(policyChanges.at, at)))
		.orderBy(policyChanges.version);
	return {
		version: steps.at(-1)?.version ?? base.version,
		source: steps.reduce((source, { delta }) => applied(source, delta.map(withoutNames)), {
			...base.source,
			fences: base.source.fences.map(unnamed)
		})
	};
}

async function baseBefore(db: Handle, at: number | null): Promise<PolicyVersion> {
	const [base] = await db
		.select({ version: policyBases.version })
		.from(policyBases)
		.where(at === null ? undefined : lte(policyBases.at, at))
		.orderBy(desc(policyBases.version))
		.limit(1);
	// Versions from before changes were kept.
	const [old] = await db
		.select()
		.from(policyVersions)
		.where(at === null ? undefined : lte(policyVersions.at, at))
		.orderBy(desc(policyVersions.version))
		.limit(1);
	if (base && base.version >= (old?.version ?? -1)) {
		const parts = await db
			.select({ bytes: policyBases.bytes })
			.from(policyBases)
			.where(eq(policyBases.version, base.version))
			.orderBy(policyBases.part);
		const text = gunzipSync(Buffer.concat(parts.map(({ bytes }) => bytes))).toString('utf8');
		return { version: base.version, source: JSON.parse(text) as PolicySource };
	}
	return old ?? { version: 0, source: EMPTY_SOURCE };
}

/** Rows of a size that fits into any packet. */
const PART_BYTES = 1024 ** 2;

/** Writes the whole of a version down; who is second finds it done. */
export async function writeBase(db: Db, { version, source }: PolicyVersion, at: number): Promise<void> {
	const bytes = gzipSync(JSON.stringify(source));
	const parts = Array.from({ length: Math.ceil(bytes.length / PART_BYTES) }, (_, part) => ({
		version,
		part,
		at,
		bytes: bytes.subarray(part * PART_BYTES, (part + 1) * PART_BYTES)
	}));
	await db.transaction(async (tx) => {
		for (const part of parts) await tx.insert(policyBases).ignore().values(part);
	});
}

const BEGINNING = 0;

/** So many changes after a base are read quickly. */
const CHANGES_AFTER_BASE = 200;

/** A new base where many changes have come since the last; the first, where there is none. */
export async function keepBase(db: Db, at: number): Promise<void> {
	const [last] = await db.select({ version: max(policyBases.version) }).from(policyBases);
	const now = await policyVersionNumber(db);
	if (last?.version === null || last?.version === undefined) {
		const [old] = await db.select({ version: max(policyVersions.version) }).from(policyVersions);
		// Nothing was ever written: what the tables say is where it begins.
		const first = old?.version ? await policyInForce(db) : { version: now, source: await policySource(db) };
		// Whatever moment is looked at, it begins there.
		await writeBase(db, first, old?.version ? at : BEGINNING);
	} else if (now - last.version >= CHANGES_AFTER_BASE) await writeBase(db, await policyInForce(db), at);
}
