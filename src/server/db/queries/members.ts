import type { MySqlColumn } from 'drizzle-orm/mysql-core';
import { and, eq, gt, inArray, isNotNull, isNull, or, sql } from 'drizzle-orm';
import type { AgreementState } from '$core/billing/agreement-facts';
import type { Grant, Member, Naming, Redemption, Viewer } from '$core/access/model';
import type { Handle } from '../connect';
import { codeBatches, grants, namings, redemptions, tenures } from '../schema/access';
import { accounts, sessions } from '../schema/people';
import { agreements } from '../schema/sales';

export type Account = typeof accounts.$inferSelect;

export async function accountById(db: Handle, id: string): Promise<Account | null> {
	const [row] = await db
		.select()
		.from(accounts)
		.where(and(eq(accounts.id, id), isNull(accounts.deletedAt)));
	return row ?? null;
}

export async function accountByEmail(db: Handle, email: string): Promise<Account | null> {
	const [row] = await db.select().from(accounts).where(eq(accounts.email, email));
	return row ?? null;
}

/** Those that some addresses have, by the address. */
export async function accountsByEmail(
	db: Handle,
	emails: readonly string[]
): Promise<Map<string, { id: string; role: Account['role'] }>> {
	const found = new Map<string, { id: string; role: Account['role'] }>();
	for (let n = 0; n < emails.length; n += NAMES_AT_ONCE) {
		const rows = await db
			.select({ id: accounts.id, email: accounts.email, role: accounts.role })
			.from(accounts)
			.where(inArray(accounts.email, emails.slice(n, n + NAMES_AT_ONCE)));
		for (const { id, email, role } of rows) if (email !== null) found.set(email, { id, role });
	}
	return found;
}

/** As many as are found by their keys, and not by reading the whole table. */
const NAMES_AT_ONCE = 1000;

/** Names of accounts, for lists that know only their ids. */
export async function accountNames(db: Handle, ids: readonly string[]): Promise<Map<string, string>> {
	const wanted = [...new Set(ids)];
	const names = new Map<string, string>();
	for (let n = 0; n < wanted.length; n += NAMES_AT_ONCE) {
		const rows = await db
			.select({ id: accounts.id, name: accounts.name })
			.from(accounts)
			.where(inArray(accounts.id, wanted.slice(n, n + NAMES_AT_ONCE)));
		for (const { id, name } of rows) names.set(id, name);
	}
	return names;
}

/** Those of some accounts that there are, and that were not deleted. */
export async function livingAmong(db: Handle, ids: readonly string[]): Promise<Set<string>> {
	const living = new Set<string>();
	for (let n = 0; n < ids.length; n += NAMES_AT_ONCE) {
		const rows = await db
			.select({ id: accounts.id })
			.from(accounts)
			.where(and(inArray(accounts.id, ids.slice(n, n + NAMES_AT_ONCE)), isNull(accounts.deletedAt)));
		for (const { id } of rows) living.add(id);
	}
	return living;
}

export async function hasOwner(db: Handle): Promise<boolean> {
	const [row] = await db
		.select({ id: accounts.id })
		.from(accounts)
		.where(eq(accounts.role, 'owner'))
		.limit(1);
	return row !== undefined;
}

/** A payment follows, as far as is known. */
export const RENEWING = ['first', 'running', 'renewing', 'owing'] as const satisfies AgreementState['kind'][];
const RENEWS: ReadonlySet<AgreementState['kind']> = new Set(RENEWING);

/** Grants with what is known of their going on: whether their agreement renews, and its period. */
function grantRows(db: Handle) {
	return (
		db
			.select({
				memberId: grants.memberId,
				id: grants.id,
				planId: grants.planId,
				from: grants.from,
				until: grants.until,
				revokedAt: grants.revokedAt,
				source: grants.source,
				state: agreements.state,
				unit: agreements.periodUnit,
				count: agreements.periodCount
			})
			.from(grants)
			// A seat goes on as what it is of.
			.leftJoin(agreements, eq(agreements.grantId, sql`coalesce(${grants.seatOf}, ${grants.id})`))
	);
}

type GrantRow = Awaited<ReturnType<typeof grantRows>>[number];

function toGrant({ id, planId, from, until, revokedAt, source, state, unit, count }: GrantRow): Grant {
	return {
		id,
		planId,
		from,
		until,
		revokedAt,
		source,
		renews: state !== null && RENEWS.has(state) && revokedAt === null,
		period: unit && count ? { unit, count } : null
	};
}

/** What a line of an order has given, and what goes on from it. @param grantId of the agreement that it began */
export async function grantsOfLine(db: Handle, orderLineId: string, grantId: string | null) {
	const { id, memberId, from, until, revokedAt } = grants;
	const isOfLine = eq(grants.orderLineId, orderLineId);
	return db
		.select({ id, memberId, from, until, revokedAt })
		.from(grants)
		.where(grantId === null ? isOfLine : or(isOfLine, eq(grants.id, grantId)))
		.orderBy(grants.from);
}

export async function grantsOf(db: Handle, memberId: string): Promise<Grant[]> {
	const rows = await grantRows(db).where(eq(grants.memberId, memberId)).orderBy(grants.from, grants.id);
	return rows.map(toGrant);
}

export async function tenuresOf(db: Handle, memberId: string): Promise<(typeof tenures.$inferSelect)[]> {
	return db.select().from(tenures).where(eq(tenures.memberId, memberId));
}

export async function redemptionsOf(db: Handle, memberId: string): Promise<Redemption[]> {
	return db
		.select({ batchId: redemptions.batchId, at: redemptions.at })
		.from(redemptions)
		.where(eq(redemptions.memberId, memberId));
}

export async function namingsOf(db: Handle, memberId: string): Promise<Naming[]> {
	return db
		.select({ crossingId: namings.crossingId, since: namings.since })
		.from(namings)
		.where(eq(namings.memberId, memberId))
		.orderBy(namings.crossingId);
}

/** Somebody on whose device codes were redeemed, with the plans that these gave. */
export type DeviceViewer = Extract<Viewer, { kind: 'stranger' }>;

/** Whoever has a device on which codes were redeemed while nobody was signed in. */
export async function viewerOfDevice(db: Handle, deviceHash: string): Promise<DeviceViewer> {
	const rows = await redeemedOnDevices(db).where(eq(redemptions.deviceHash, deviceHash));
	return deviceViewer(rows);
}

/** Whoever has a device without an account on which codes of some batches were redeemed, or such as give a plan. */
export async function viewersOfDevices(db: Handle, batchIds: readonly string[]): Promise<DeviceViewer[]> {
	const some = and(
		isNull(redemptions.memberId),
		or(inArray(codeBatches.id, [...batchIds]), isNotNull(codeBatches.planId))
	);
	const rows = await redeemedOnDevices(db).where(some).orderBy(redemptions.at, redemptions.id);
	return [...groupedBy(rows, ({ deviceHash }) => deviceHash).values()].map(deviceViewer);
}

function redeemedOnDevices(db: Handle) {
	const { id, deviceHash, batchId, at, until } = redemptions;
	return db
		.select({ id, deviceHash, batchId, at, until, planId: codeBatches.planId })
		.from(redemptions)
		.innerJoin(codeBatches, eq(codeBatches.id, redemptions.batchId));
}

interface Redeemed extends Redemption {
	id: string;
	planId: string | null;
	until: number | null;
}

function deviceViewer(rows: readonly Redeemed[]): DeviceViewer {
	return {
		kind: 'stranger',
		redemptions: rows.map(({ batchId, at }) => ({ batchId, at })),
		grants: rows.flatMap(({ id, planId, at: from, until }) =>
			planId === null
				? []
				: [{ id, planId, from, until, revokedAt: null, source: 'code', renews: false, period: null }]
		)
	};
}

/** Everybody's standing, or that of some: what rehearsals and matrices look at. `ids`: at most some hundreds. */
export async function population(db: Handle, ids: readonly string[] | null = null): Promise<Member[]> {
	const of = (column: MySqlColumn) => (ids === null ? undefined : inArray(column, [...ids]));
	const people = await db
		.select({ id: accounts.id, since: accounts.createdAt })
		.from(accounts)
		.where(
			and(eq(accounts.role, 'member'), isNull(accounts.deletedAt), isNotNull(accounts.email), of(accounts.id))
		)
		.orderBy(accounts.id);
	const granted = byMember(await grantRows(db).where(of(grants.memberId)).orderBy(grants.from, grants.id));
	const held = byMember(await db.select().from(tenures).where(of(tenures.memberId)));
	const redeemed = byMember(
		await db
			.select()
			.from(redemptions)
			.where(and(isNotNull(redemptions.memberId), of(redemptions.memberId)))
	);
	const named = byMember(
		await db.select().from(namings).where(of(namings.memberId)).orderBy(namings.crossingId)
	);
	return people.map(({ id, since }) => ({
		kind: 'member',
		id,
		isStaff: false,
		since,
		grants: (granted.get(id) ?? []).map(toGrant),
		tenures: (held.get(id) ?? []).map(({ planId, firstJoinedAt, isSetByHand }) => ({
			planId,
			firstJoinedAt,
			isSetByHand
		})),
		redemptions: (redeemed.get(id) ?? []).map(({ batchId, at }) => ({ batchId, at })),
		namings: (named.get(id) ?? []).map(({ crossingId, since }) => ({ crossingId, since }))
	}));
}

export function byMember<T extends { memberId: string | null }>(rows: readonly T[]): Map<string, T[]> {
	return groupedBy(rows, ({ memberId }) => memberId);
}

/** Rows by a key, in their order; those without one are left out. */
export function groupedBy<T>(rows: readonly T[], keyOf: (row: T) => string | null): Map<string, T[]> {
	const map = new Map<string, T[]>();
	for (const row of rows) {
		const key = keyOf(row);
		if (key === null) continue;
		const known = map.get(key);
		if (known) known.push(row);
		else map.set(key, [row]);
	}
	return map;
}

export async function sessionInForce(db: Handle, tokenHash: string, wallNow: number) {
	const [row] = await db
		.select({ accountId: sessions.accountId, expiresAt: sessions.expiresAt })
		.from(sessions)
		.where(and(eq(sessions.tokenHash, tokenHash), gt(sessions.expiresAt, wallNow)));
	return row ?? null;
}

/** Locks the account's row: what is decided for one member at a time starts here. */
export async function lockAccount(db: Handle, id: string): Promise<void> {
	await db.select({ id: accounts.id }).from(accounts).where(eq(accounts.id, id)).for('update');
}

/** Notes the first day with a plan: the earliest that was ever noted, but for one that was set by hand. */
export async function keepFirstDay(db: Handle, memberId: string, planId: string, at: number): Promise<void> {
	await keepFirstDays(db, [{ memberId, planId, firstJoinedAt: at }]);
}

export async function keepFirstDays(
	db: Handle,
	days: readonly { memberId: string; planId: string; firstJoinedAt: number }[]
): Promise<void> {
	await db
		.insert(tenures)
		.values([...days])
		.onDuplicateKeyUpdate({
			set: {
				firstJoinedAt: sql`if(is_set_by_hand, first_joined_at, least(first_joined_at, values(first_joined_at)))`
			}
		});
}

/** Sets the first day by hand. */
export async function setFirstDay(db: Handle, memberId: string, planId: string, at: number): Promise<void> {
	await db
		.insert(tenures)
		.values({ memberId, planId, firstJoinedAt: at, isSetByHand: true })
		.onDuplicateKeyUpdate({ set: { firstJoinedAt: at, isSetByHand: true } });
}
