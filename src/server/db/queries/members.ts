import { and, eq, gt, isNull, sql } from 'drizzle-orm';
import type { Grant } from '$core/access/model';
import type { Handle } from '../connect';
import { grants, tenures } from '../schema/access';
import { accounts, sessions } from '../schema/people';

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

export async function hasOwner(db: Handle): Promise<boolean> {
	const [row] = await db
		.select({ id: accounts.id })
		.from(accounts)
		.where(eq(accounts.role, 'owner'))
		.limit(1);
	return row !== undefined;
}

export async function grantsOf(db: Handle, memberId: string): Promise<Grant[]> {
	return db
		.select({
			id: grants.id,
			planId: grants.planId,
			from: grants.from,
			until: grants.until,
			revokedAt: grants.revokedAt,
			source: grants.source
		})
		.from(grants)
		.where(eq(grants.memberId, memberId))
		.orderBy(grants.from);
}

export async function tenuresOf(db: Handle, memberId: string): Promise<(typeof tenures.$inferSelect)[]> {
	return db.select().from(tenures).where(eq(tenures.memberId, memberId));
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

/** Notes the first day with a plan, once. */
export async function keepFirstDay(db: Handle, memberId: string, planId: string, at: number): Promise<void> {
	await db
		.insert(tenures)
		.values({ memberId, planId, firstJoinedAt: at })
		.onDuplicateKeyUpdate({ set: { firstJoinedAt: sql`least(first_joined_at, values(first_joined_at))` } });
}
