import { AWAITED } from '$core/billing/order';
import { and, eq, inArray, isNotNull, isNull, ne, or, sql } from 'drizzle-orm';
import { DONE, notDone, type Done } from '../../done';
import { accountById, lockAccount } from '../../db/queries/members';
import { livingAgreements } from '../../db/queries/agreements';
import { forgetFactor } from '../../db/queries/second-factors';
import { grants, linkOpenings, namings } from '../../db/schema/access';
import { positions } from '../../db/schema/library';
import { accounts, addressChanges, joinLinks, sessions, signInLinks } from '../../db/schema/people';
import { audit, jobs, sentMails } from '../../db/schema/running';
import { agreements, cardChanges, cards, documents, gifts, orders, waitingList } from '../../db/schema/sales';
import { transact, type Work, type Transacting } from '../../transact';
import { endOrder } from '../sales/end-pay-page';
import { forgetSeats } from '../sales/seats';
import { commandAgreement } from '../sales/move-agreement';
import { need, type Staff } from '../../people/need';
import { revokeGrants } from '../access/granting';
import { tellDeleted } from '../running/tell-listeners';

/**
 * Deletes an account: its sessions and links end, nothing is charged any more, and its name, address and words go
 * everywhere. What stays: that something was bought, when and for how much (ledger, orders, payments), and on receipts the
 * buyer's name, which the law wants kept with them; the address on them goes.
 */
export async function deleteMember(app: Transacting, actor: Staff, memberId: string): Promise<Done> {
	need(actor, 'members');
	return transact(app, actor, async (work) => {
		await lockAccount(work.tx, memberId);
		const account = await accountById(work.tx, memberId);
		if (account?.role !== 'member') return notDone('unknown');
		for (const { id } of await livingAgreements(work.tx, memberId, work.now)) {
			await commandAgreement(work, id, { kind: 'stop' });
		}
		await endOrders(work, memberId, account.email);
		await revokeGrants(work, eq(grants.memberId, memberId));
		await work.tx.delete(sessions).where(eq(sessions.accountId, memberId));
		await forgetFactor(work.tx, memberId);
		if (account.email) await work.tx.delete(joinLinks).where(eq(joinLinks.email, account.email));
		await work.tx.delete(signInLinks).where(eq(signInLinks.accountId, memberId));
		await work.tx
			.update(accounts)
			.set({
				email: null,
				name: 'Deleted member',
				passwordHash: null,
				language: null,
				claimedByOrderId: null,
				deletedAt: work.now
			})
			.where(eq(accounts.id, memberId));
		await work.note({ action: 'deleted-member', subject: { kind: 'account', id: memberId }, memberId });
		await tellDeleted(work, memberId);
		await erase(work, memberId, account.email ?? '');
		work.standingChanged(memberId);
		return DONE;
	});
}

/** Nobody is to pay for what nobody would get. */
async function endOrders(work: Work, memberId: string, email: string | null): Promise<void> {
	const typed = email === null ? undefined : and(isNull(orders.memberId), eq(orders.email, email));
	const standing = await work.tx
		.select()
		.from(orders)
		.where(and(inArray(orders.state, ['open', ...AWAITED]), or(eq(orders.memberId, memberId), typed)))
		.for('update');
	for (const order of standing) await endOrder(work, order, 'ran-out');
}

/** What they typed and what was written about them by name. */
async function erase(work: Work, memberId: string, email: string): Promise<void> {
	const { tx } = work;
	await tx
		.update(orders)
		.set({ email: null, typedName: null, typedPasswordHash: null, next: null, postal: null })
		.where(or(eq(orders.memberId, memberId), eq(orders.email, email)));
	// What they gave waits still for whom it is for, without their name; what was for them is nobody's any more.
	const given = tx.select({ id: orders.id }).from(orders).where(eq(orders.memberId, memberId));
	await tx.update(gifts).set({ giverName: '', words: '' }).where(inArray(gifts.orderId, given));
	await tx
		.update(gifts)
		.set({ email: null, words: '' })
		.where(or(eq(gifts.memberId, memberId), eq(gifts.email, email)));
	await tx
		.update(agreements)
		.set({ cancelWords: null })
		.where(and(eq(agreements.memberId, memberId), isNotNull(agreements.cancelWords)));
	await tx
		.update(documents)
		.set({ content: sql`json_set(${documents.content}, '$.buyer.email', '')` })
		.where(eq(documents.memberId, memberId));
	await tx
		.update(audit)
		.set({ before: null, after: null, why: null })
		.where(and(eq(audit.memberId, memberId), ne(audit.action, 'deleted-member')));
	// The mail that says goodbye is not sent: there is no address any more.
	await tx.delete(jobs).where(and(eq(jobs.memberId, memberId), ne(jobs.state, 'running')));
	await tx
		.delete(jobs)
		.where(and(eq(jobs.kind, 'sign-in-mail'), sql`json_value(${jobs.payload}, '$.email') = ${email}`));
	await tx
		.delete(jobs)
		.where(and(eq(jobs.kind, 'wait-mail'), sql`json_value(${jobs.payload}, '$.email') = ${email}`));
	await tx.delete(waitingList).where(eq(waitingList.email, email));
	await forgetSeats(work, memberId, email);
	await tx.delete(cards).where(eq(cards.memberId, memberId));
	await tx.delete(cardChanges).where(eq(cardChanges.memberId, memberId));
	await tx.delete(namings).where(eq(namings.memberId, memberId));
	await tx.delete(positions).where(eq(positions.memberId, memberId));
	await tx.delete(linkOpenings).where(eq(linkOpenings.memberId, memberId));
	await tx.delete(addressChanges).where(eq(addressChanges.accountId, memberId));
	await tx.delete(sentMails).where(eq(sentMails.memberId, memberId));
}
