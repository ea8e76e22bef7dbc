import { eq, isNull, and } from 'drizzle-orm';
import type { Actor, App } from '../../app';
import { accountById } from '../../db/queries/members';
import { livingSubscriptions } from '../../db/queries/sales';
import { accounts, sessions, signInLinks } from '../../db/schema/people';
import { transact } from '../../transact';
import { moveSubscription } from '../sales/move-subscription';
import { grants } from '../../db/schema/access';

/**
 * Deletes an account: its address and password go, its sessions and links end, nothing is charged any more. Receipts and
 * the ledger stay, as they must.
 */
export async function deleteMember(app: App, actor: Actor, memberId: string): Promise<boolean> {
	return transact(app, actor, async (work) => {
		const account = await accountById(work.tx, memberId);
		if (account?.role !== 'member') return false;
		for (const { id } of await livingSubscriptions(work.tx, memberId)) {
			await moveSubscription(app, work, id, { kind: 'stop' });
		}
		await work.tx
			.update(grants)
			.set({ revokedAt: work.now })
			.where(and(eq(grants.memberId, memberId), isNull(grants.revokedAt)));
		await work.tx.delete(sessions).where(eq(sessions.accountId, memberId));
		await work.tx.delete(signInLinks).where(eq(signInLinks.accountId, memberId));
		await work.tx
			.update(accounts)
			.set({ email: null, passwordHash: null, deletedAt: work.now })
			.where(eq(accounts.id, memberId));
		await work.note({ action: 'deleted-member', subject: { kind: 'account', id: memberId }, memberId });
		work.standingChanged(memberId);
		return true;
	});
}
