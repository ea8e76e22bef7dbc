/**
 * Whose account is it? Three things are told apart: an address that somebody typed, one that somebody has paid on, and one
 * that is proved: a mailed link was pressed. Only proof lets somebody into what an account already holds.
 */
import { and, eq, inArray, isNotNull, isNull, ne, sql } from 'drizzle-orm';
import type { Handle } from '../../db/connect';
import type { Account } from '../../db/queries/members';
import { orderById } from '../../db/queries/sales';
import { clearAddress } from '../../db/queries/sent-mails';
import { accounts, sessions } from '../../db/schema/people';
import { hashOf } from '../../people/sessions';
import type { Work } from '../../transact';

/** What a device shows of itself: the cookies of the order it made, and of its session. */
export interface Device {
	orderToken: string | null;
	sessionToken: string | null;
}

/**
 * Before something is added to an account whose mailbox nobody has proved (a plan by hand, a later order): whoever typed
 * or paid on the address is signed out, and their password ends. What is added opens by the mailed link.
 */
export async function endUnproved({ tx, standingChanged }: Work, account: Account): Promise<boolean> {
	if (account.provedAt !== null) return false;
	await tx.delete(sessions).where(eq(sessions.accountId, account.id));
	await tx
		.update(accounts)
		.set({ passwordHash: null, claimedByOrderId: null, epoch: sql`${accounts.epoch} + 1` })
		.where(eq(accounts.id, account.id));
	standingChanged(account.id);
	return true;
}

/** Accounts that are looked for at once. */
const AT_ONCE = 500;

/** Somebody has paid on the address, and nobody has shown that the mailbox is theirs. */
export const isClaimedAlone = and(isNotNull(accounts.claimedAt), isNull(accounts.provedAt));

/** Of some accounts, in the order of their ids. */
export async function unprovedOf(db: Handle, memberIds: readonly string[]): Promise<string[]> {
	const found: string[] = [];
	for (let n = 0; n < memberIds.length; n += AT_ONCE) {
		const rows = await db
			.select({ id: accounts.id })
			.from(accounts)
			.where(and(inArray(accounts.id, memberIds.slice(n, n + AT_ONCE)), isClaimedAlone))
			.orderBy(accounts.id);
		found.push(...rows.map(({ id }) => id));
	}
	return found;
}

/** Whether this device is the one that paid for the account, or is signed in to it. */
export async function isOwnDevice(
	tx: Handle,
	account: Account,
	{ orderToken, sessionToken }: Device
): Promise<boolean> {
	const order =
		orderToken !== null && account.claimedByOrderId !== null
			? await orderById(tx, account.claimedByOrderId)
			: null;
	if (order && orderToken !== null && order.deviceHash === hashOf(orderToken)) return true;
	if (sessionToken === null) return false;
	const [own] = await tx
		.select({ accountId: sessions.accountId })
		.from(sessions)
		.where(and(eq(sessions.tokenHash, hashOf(sessionToken)), eq(sessions.accountId, account.id)));
	return own !== undefined;
}

/** Whether other devices have set something that a first proof may end. */
export async function hasForeignThings(tx: Handle, account: Account, device: Device): Promise<boolean> {
	if (account.provedAt !== null || (await isOwnDevice(tx, account, device))) return false;
	if (account.passwordHash !== null || account.isNameTyped) return true;
	const [session] = await tx
		.select({ hash: sessions.tokenHash })
		.from(sessions)
		.where(eq(sessions.accountId, account.id))
		.limit(1);
	return session !== undefined;
}

/** The mailbox is its owner's. The first time, what other devices set before may end with it. */
export async function prove(
	work: Work,
	account: Account,
	device: Device,
	endsForeign: boolean
): Promise<void> {
	const { tx, now } = work;
	// What was said against the address is wrong by now.
	if (account.email !== null) await clearAddress(tx, account.email, now);
	if (account.provedAt !== null) return;
	const ends = endsForeign && (await hasForeignThings(tx, account, device));
	if (ends) {
		const own =
			device.sessionToken === null ? undefined : ne(sessions.tokenHash, hashOf(device.sessionToken));
		await tx.delete(sessions).where(and(eq(sessions.accountId, account.id), own));
	}
	await tx
		.update(accounts)
		.set({
			provedAt: now,
			claimedAt: account.claimedAt ?? now,
			claimedByOrderId: null,
			isNameTyped: false,
			...(ends ? { passwordHash: null, epoch: sql`${accounts.epoch} + 1` } : {}),
			...(ends && account.isNameTyped && account.email !== null ? { name: account.email } : {})
		})
		.where(eq(accounts.id, account.id));
	await work.note({
		action: 'proved-mailbox',
		subject: { kind: 'account', id: account.id },
		memberId: account.id,
		after: { endedOthers: ends }
	});
	work.standingChanged(account.id);
}
