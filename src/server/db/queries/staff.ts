/** Members of staff, and the roles that say what they may do. */
import { and, asc, eq, isNull, ne } from 'drizzle-orm';
import { ALL_PERMISSIONS, NO_PERMISSIONS, readPermissions, type Permissions } from '$core/staff/permissions';
import type { Handle } from '../connect';
import { accounts, roles, type AccountRole } from '../schema/people';

export type Role = typeof roles.$inferSelect;

export async function allRoles(db: Handle): Promise<Role[]> {
	return db.select().from(roles).orderBy(asc(roles.createdAt), asc(roles.id));
}

/** Owners first, then in the order in which they came. */
export async function allStaff(db: Handle) {
	return db
		.select({
			id: accounts.id,
			name: accounts.name,
			email: accounts.email,
			role: accounts.role,
			roleId: accounts.roleId,
			provedAt: accounts.provedAt
		})
		.from(accounts)
		.where(and(ne(accounts.role, 'member'), isNull(accounts.deletedAt)))
		.orderBy(accounts.role, accounts.createdAt);
}

/** What an account may do at the Desk, as it is kept. */
export async function permissionsOf(
	db: Handle,
	{ role, roleId }: { role: AccountRole; roleId: string | null }
): Promise<Permissions> {
	if (role === 'owner') return ALL_PERMISSIONS;
	if (role === 'member' || roleId === null) return NO_PERMISSIONS;
	const [found] = await db.select().from(roles).where(eq(roles.id, roleId));
	return new Set(readPermissions(found?.permissions ?? []));
}
