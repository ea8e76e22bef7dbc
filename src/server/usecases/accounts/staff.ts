/** Who works at the Desk, and what each role may do. */
import { and, eq, isNull, ne, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import {
	ALL_PERMISSIONS,
	NO_PERMISSIONS,
	readPermissions,
	type Permission,
	type Permissions
} from '$core/staff/permissions';
import { DUPLICATE_KEY, errorNumber } from '../../db/connect';
import { accountByEmail, accountById, lockAccount } from '../../db/queries/members';
import { factorOf } from '../../db/queries/second-factors';
import { allStaff, permissionsOf } from '../../db/queries/staff';
import { changeSettings, lockSite } from '../../db/queries/settings';
import { accounts, roles, sessions } from '../../db/schema/people';
import { holdsAll, need, type Staff } from '../../people/need';
import { SITE } from '../running/save-site';
import { transact, type Work, type Transacting } from '../../transact';
import { endAskedAddresses } from './change-address';
import { normaliseEmail } from './sign-in';

/** What somebody is at the Desk: an owner, or the holder of a role. */
export type Post = { kind: 'owner' } | { kind: 'role'; roleId: string };

export type Invited =
	| { kind: 'saved'; accountId: string }
	/**
	 * `is-staff`: they work here already. `unknown-role`: it was taken away meanwhile. `more-than-own`: nobody gives what they
	 * do not hold themselves.
	 */
	| { kind: 'refused'; code: 'is-staff' | 'unknown-role' | 'more-than-own' };

/** Makes an account, or takes the one that the address has, and mails the way in. What somebody has bought stays theirs. */
export async function inviteStaff(
	app: Transacting,
	actor: Staff,
	wish: { email: string; name: string; post: Post }
): Promise<Invited> {
	need(actor, 'staff');
	const email = normaliseEmail(wish.email);
	try {
		return await transact<Invited>(app, actor, async (work) => {
			await lockSite(work.tx);
			const held = await permissionsIn(work, wish.post);
			if (!held) return { kind: 'refused', code: 'unknown-role' };
			if (!holdsAll(actor, held)) return { kind: 'refused', code: 'more-than-own' };
			const known = await accountByEmail(work.tx, email);
			if (known && known.role !== 'member') return { kind: 'refused', code: 'is-staff' };
			const accountId = known?.id ?? uuidv7();
			if (!known)
				await work.tx.insert(accounts).values({
					id: accountId,
					email,
					name: wish.name || email,
					role: 'member',
					createdAt: work.now
				});
			// Whoever only paid on the address, or typed it, does not come to the Desk by that.
			if (known && known.provedAt === null) await endSessions(work, accountId);
			await give(work, accountId, wish.post);
			await work.queue('mail', { occasion: 'staff', memberId: accountId }, { memberId: accountId });
			return { kind: 'saved', accountId };
		});
	} catch (error) {
		// Somebody bought with the same address at the same moment: then there is an account to take.
		if (errorNumber(error) === DUPLICATE_KEY) return inviteStaff(app, actor, wish);
		throw error;
	}
}

export type Posted =
	| { kind: 'saved' }
	/** `last-owner`: somebody has to be able to do everything. `more-than-own`: theirs, or what they would be. */
	| { kind: 'refused'; code: 'unknown' | 'unknown-role' | 'last-owner' | 'more-than-own' };

/** Gives somebody another post; `null` takes them out of the staff: they are a member from then on. */
export async function changePost(
	app: Transacting,
	actor: Staff,
	accountId: string,
	post: Post | null
): Promise<Posted> {
	need(actor, 'staff');
	return transact<Posted>(app, actor, async (work) => {
		await lockSite(work.tx);
		const account = await accountById(work.tx, accountId);
		if (!account || account.role === 'member') return { kind: 'refused', code: 'unknown' };
		const held = post && (await permissionsIn(work, post));
		if (post && !held) return { kind: 'refused', code: 'unknown-role' };
		const before = await permissionsOf(work.tx, account);
		if (!holdsAll(actor, before) || !holdsAll(actor, held ?? NO_PERMISSIONS))
			return { kind: 'refused', code: 'more-than-own' };
		if (account.role === 'owner' && post?.kind !== 'owner' && !(await hasOtherOwner(work, accountId)))
			return { kind: 'refused', code: 'last-owner' };
		await give(work, accountId, post);
		return { kind: 'saved' };
	});
}

export interface RoleWish {
	/** `null`: a new one. */
	id: string | null;
	name: string;
	permissions: Permission[];
}

export type SavedRole =
	{ kind: 'saved'; roleId: string } | { kind: 'refused'; code: 'unknown' | 'more-than-own' };

/** Names a role and says what it may do: it counts at once for everybody who holds it. */
export async function saveRole(app: Transacting, actor: Staff, wish: RoleWish): Promise<SavedRole> {
	need(actor, 'staff');
	return transact<SavedRole>(app, actor, async (work) => {
		await lockSite(work.tx);
		const { name, permissions } = wish;
		const roleId = wish.id ?? uuidv7();
		const [before] = await work.tx.select().from(roles).where(eq(roles.id, roleId));
		if (wish.id !== null && !before) return { kind: 'refused', code: 'unknown' };
		if (!holdsAll(actor, [...permissions, ...(before?.permissions ?? [])]))
			return { kind: 'refused', code: 'more-than-own' };
		if (before) await work.tx.update(roles).set({ name, permissions }).where(eq(roles.id, roleId));
		else await work.tx.insert(roles).values({ id: roleId, name, permissions, createdAt: work.now });
		await work.note({
			action: 'saved-role',
			subject: { kind: 'role', id: roleId },
			before: before ?? null,
			after: { name, permissions }
		});
		for (const { id } of await holders(work, roleId)) work.standingChanged(id);
		return { kind: 'saved', roleId };
	});
}

export type RemovedRole = { kind: 'saved' } | { kind: 'refused'; code: 'unknown' | 'is-held' };

/** Takes a role away that nobody holds. */
export async function removeRole(app: Transacting, actor: Staff, roleId: string): Promise<RemovedRole> {
	need(actor, 'staff');
	return transact<RemovedRole>(app, actor, async (work) => {
		await lockSite(work.tx);
		if ((await holders(work, roleId)).length > 0) return { kind: 'refused', code: 'is-held' };
		const [removed] = await work.tx.delete(roles).where(eq(roles.id, roleId));
		if (removed.affectedRows === 0) return { kind: 'refused', code: 'unknown' };
		await work.note({ action: 'removed-role', subject: { kind: 'role', id: roleId } });
		return { kind: 'saved' };
	});
}

export type CodeNeeded = { kind: 'saved' } | { kind: 'refused'; code: 'own-first' };

/**
 * Whether whoever works at the Desk is asked for a code besides when signing in. Those who have none yet set it up before they
 * may anything; whoever asks it of others has it.
 */
export async function needStaffCode(app: Transacting, actor: Staff, isNeeded: boolean): Promise<CodeNeeded> {
	need(actor, 'staff');
	return transact<CodeNeeded>(app, actor, async (work) => {
		await lockSite(work.tx);
		if (isNeeded && actor !== null && !(await factorOf(work.tx, actor.id)))
			return { kind: 'refused', code: 'own-first' };
		const before = await changeSettings(work.tx, () => ({ staffNeedCode: isNeeded }));
		if (before.staffNeedCode === isNeeded) return { kind: 'saved' };
		await work.note({
			action: 'changed-staff-code',
			subject: SITE,
			before: { staffNeedCode: !isNeeded },
			after: { staffNeedCode: isNeeded }
		});
		for (const { id } of await allStaff(work.tx)) work.standingChanged(id);
		work.contentChanged();
		return { kind: 'saved' };
	});
}

async function give(work: Work, accountId: string, post: Post | null): Promise<void> {
	await lockAccount(work.tx, accountId);
	const role = post === null ? 'member' : post.kind === 'owner' ? 'owner' : 'staff';
	const roleId = post?.kind === 'role' ? post.roleId : null;
	await work.tx.update(accounts).set({ role, roleId }).where(eq(accounts.id, accountId));
	await endAskedAddresses(work, accountId);
	await work.note({
		action: 'changed-post',
		subject: { kind: 'account', id: accountId },
		after: { role, roleId }
	});
	work.standingChanged(accountId);
}

async function endSessions({ tx }: Work, accountId: string): Promise<void> {
	await tx.delete(sessions).where(eq(sessions.accountId, accountId));
	await tx
		.update(accounts)
		.set({ passwordHash: null, claimedByOrderId: null, epoch: sql`${accounts.epoch} + 1` })
		.where(eq(accounts.id, accountId));
}

/** What a post lets somebody do; `null` where its role does not exist. */
async function permissionsIn({ tx }: Work, post: Post): Promise<Permissions | null> {
	if (post.kind === 'owner') return ALL_PERMISSIONS;
	const [role] = await tx.select().from(roles).where(eq(roles.id, post.roleId));
	return role ? new Set(readPermissions(role.permissions)) : null;
}

async function hasOtherOwner({ tx }: Work, accountId: string): Promise<boolean> {
	const [other] = await tx
		.select({ id: accounts.id })
		.from(accounts)
		.where(and(eq(accounts.role, 'owner'), isNull(accounts.deletedAt), ne(accounts.id, accountId)))
		.limit(1);
	return other !== undefined;
}

async function holders({ tx }: Work, roleId: string): Promise<{ id: string }[]> {
	return tx
		.select({ id: accounts.id })
		.from(accounts)
		.where(and(eq(accounts.role, 'staff'), eq(accounts.roleId, roleId)));
}
