/** Members are reminded of what they began to buy and did not pay, where the site does so, and end that with one press. */
import { and, eq, gt, ne } from 'drizzle-orm';
import { sellsAt } from '$core/billing/plan-access';
import { whyNotReminded, type NotReminded } from '$core/billing/reminding';
import type { Using } from '../../app';
import type { Handle } from '../../db/connect';
import { heldInPlaceOf } from '../../db/queries/agreements';
import { giftOfOrder } from '../../db/queries/gifts';
import { accountById, lockAccount } from '../../db/queries/members';
import { lineOf, orderById, planById, type Order } from '../../db/queries/sales';
import { accounts } from '../../db/schema/people';
import { orderLines, orders } from '../../db/schema/sales';
import { transact, type Transacting, type Work } from '../../transact';
import { isSoldTo } from './sold-to';

const HOUR_MS = 3_600_000;

/** In the transaction in which an order is begun by somebody who is signed in. */
export async function queueReminder(
	work: Work,
	orderId: string,
	memberId: string,
	afterHours: number
): Promise<void> {
	const runAt = work.now + afterHours * HOUR_MS;
	await work.queue('remind', { orderId }, { key: `remind:${orderId}`, runAt, subjectId: orderId, memberId });
}

/** The job: its time has come, and whether it is still wanted is looked at behind the member's lock. */
export async function remind(app: Transacting & Using<'site'>, orderId: string): Promise<void> {
	if ((await app.site()).remindsAfterHours === null) return;
	await transact(app, null, async (work) => {
		const order = await orderById(work.tx, orderId);
		if (!order?.memberId) return;
		await lockAccount(work.tx, order.memberId);
		if ((await whyNot(work.tx, orderId, work.now)) !== null) return;
		await work.tx.update(accounts).set({ remindedAt: work.now }).where(eq(accounts.id, order.memberId));
		const whom = { key: `mail:reminder:${orderId}`, memberId: order.memberId };
		await work.queue('mail', { occasion: 'reminder', orderId }, whom);
	});
}

/** Whether the mail is still to be sent: it may have been bought since, or ended with one press. */
export async function isStillReminded(
	app: Using<'clock' | 'db' | 'rights'>,
	orderId: string
): Promise<boolean> {
	const why = await whyNot(app.db, orderId, app.clock.business());
	// It is this reminder that was lately.
	if (why !== null && why !== 'lately') return false;
	const order = await orderById(app.db, orderId);
	const plan = order && (await planById(app.db, (await lineOf(app.db, orderId)).planId));
	return plan !== null && isSoldTo(app, order?.memberId ?? null, plan);
}

async function whyNot(db: Handle, orderId: string, now: number): Promise<NotReminded | null> {
	const order = await orderById(db, orderId);
	const account = order?.memberId ? await accountById(db, order.memberId) : null;
	if (!order || !account?.email) return 'only-typed';
	const { planId } = await lineOf(db, order.id);
	const plan = await planById(db, planId);
	const isForOneself = order.movesId === null && (await giftOfOrder(db, order.id)) === null;
	return whyNotReminded(
		{
			...{ state: order.state, isForOneself, isByMember: order.email === null },
			hasLater: await hasLater(db, order, planId),
			isHeld: plan !== null && (await heldInPlaceOf(db, account.id, plan, now)) !== null,
			isSold: plan !== null && sellsAt(plan, now) && plan.buyAt === null
		},
		{
			isProved: account.provedAt !== null,
			offAt: account.remindersOffAt,
			remindedAt: account.remindedAt
		},
		now
	);
}

/** Whether they ordered the same again since. */
async function hasLater(db: Handle, { id, memberId, createdAt }: Order, planId: string): Promise<boolean> {
	const [later] = await db
		.select({ id: orders.id })
		.from(orders)
		.innerJoin(orderLines, eq(orderLines.orderId, orders.id))
		.where(
			and(
				eq(orders.memberId, memberId ?? id),
				ne(orders.id, id),
				gt(orders.createdAt, createdAt),
				eq(orderLines.planId, planId)
			)
		)
		.limit(1);
	return later !== undefined;
}

const PURPOSE = 'no-reminders';

/** The address, below the site's, at which one press ends them: RFC 8058 asks for one that needs no sign-in. */
export function endingPath(app: Using<'keys'>, memberId: string): string {
	return `/mails/${app.keys.signText(PURPOSE, memberId)}`;
}

/** Whose reminders an address ends; `null`: it is none of ours, or their account is gone. */
export async function reminded(
	app: Using<'db' | 'keys'>,
	token: string
): Promise<{ memberId: string; isOff: boolean } | null> {
	const memberId = app.keys.readText(PURPOSE, token);
	const account = memberId === null ? null : await accountById(app.db, memberId);
	return account?.email ? { memberId: account.id, isOff: account.remindersOffAt !== null } : null;
}

export async function wishReminders(app: Transacting, memberId: string, wants: boolean): Promise<void> {
	await transact(app, { id: memberId }, async (work) => {
		await lockAccount(work.tx, memberId);
		await keepWish(work, memberId, wants);
	});
}

/** Behind the member's lock. */
export async function endReminders(work: Work, memberId: string): Promise<void> {
	await keepWish(work, memberId, false);
}

async function keepWish(work: Work, memberId: string, wants: boolean): Promise<void> {
	const account = await accountById(work.tx, memberId);
	if (!account?.email || (account.remindersOffAt === null) === wants) return;
	await work.tx
		.update(accounts)
		.set({ remindersOffAt: wants ? null : work.now })
		.where(eq(accounts.id, memberId));
	const action = wants ? 'wants-reminders' : 'wants-no-reminders';
	await work.note({ action, subject: { kind: 'account', id: memberId }, memberId });
}
