/** What the checkout, return and thank-you pages may show of an order, and to whom. */
import { and, desc, eq, inArray, isNull } from 'drizzle-orm';
import { standingOf, type PaymentStanding, type PaymentState } from '$core/billing/payment';
import type { Using } from '../../app';
import { accountById, lockAccount } from '../../db/queries/members';
import { livingAgreements } from '../../db/queries/agreements';
import { lineOf, orderById, paymentsOfOrder, planById, type Order } from '../../db/queries/sales';
import { orderLines, orders, payments } from '../../db/schema/sales';
import { beginSession, hashOf, type NewSession } from '../../people/sessions';
import { transact, type Transacting } from '../../transact';
import { landingPath } from './landing';
import { settlePayment } from './settle-payment';
import type { Selling } from './selling';

const SIGNS_IN_FOR_MS = 86_400_000;

export async function holdsPlan(
	app: Using<'clock' | 'db'>,
	memberId: string,
	planId: string
): Promise<boolean> {
	return (await livingAgreements(app.db, memberId, app.clock.business())).some(
		(agreement) => agreement.planId === planId
	);
}

/** What this device typed for an order of the plan whose card was declined, or whose pay page ended. */
export async function declinedOrder(app: Using<'db'>, planId: string, device: string) {
	const [row] = await app.db
		.select({ order: orders })
		.from(orders)
		.innerJoin(orderLines, eq(orderLines.orderId, orders.id))
		.innerJoin(payments, eq(payments.orderId, orders.id))
		.where(
			and(
				eq(orders.deviceHash, hashOf(device)),
				inArray(orders.state, ['open', 'expired']),
				eq(orderLines.planId, planId),
				inArray(payments.state, ['declined', 'expired'])
			)
		)
		.orderBy(desc(orders.createdAt))
		.limit(1);
	if (!row) return null;
	return { email: row.order.email ?? '', name: row.order.typedName ?? '' };
}

/** The order, if this device began it or its member is signed in. */
async function ownOrder(
	app: Using<'db'>,
	orderId: string,
	device: string | null,
	memberId: string | null
): Promise<Order | null> {
	if (!/^[0-9a-f-]{36}$/.test(orderId)) return null;
	const order = await orderById(app.db, orderId);
	if (!order) return null;
	const isDevice = device !== null && hashOf(device) === order.deviceHash;
	return isDevice || (memberId !== null && order.memberId === memberId) ? order : null;
}

export type Returned = { planSlug: string; state: PaymentState; payUrl: string | null; next: string | null };

/** Settles what the processor knows by now: as good as a notification. */
export async function settleReturn(
	app: Selling,
	orderId: string,
	device: string | null,
	memberId: string | null
): Promise<Returned | null> {
	const order = await ownOrder(app, orderId, device, memberId);
	if (!order) return null;
	const first = (await paymentsOfOrder(app.db, order.id)).find((payment) => payment.agreementId === null);
	const plan = await planById(app.db, (await lineOf(app.db, order.id)).planId);
	if (!first || !plan) return null;
	return {
		planSlug: plan.slug,
		state: (await settlePayment(app, first)).state,
		payUrl: first.payUrl,
		next: order.next
	};
}

export interface Thanks {
	number: string;
	planName: string;
	totalMinor: number;
	currency: string;
	email: string;
	landing: string;
	/** Set where paying signs this device in. */
	session: NewSession | null;
	/** Signed in, now or before: the way on is open. Otherwise it is in the mail. */
	isIn: boolean;
	/** Said to the member themselves only: nobody else learns what an address holds. */
	isGivenBack: boolean;
}

/** The thank-you page of an order. It signs in once: the device that ordered, where this order made the account theirs. */
export async function thank(
	app: Transacting,
	orderId: string,
	device: string | null,
	memberId: string | null
): Promise<Thanks | null> {
	const order = await ownOrder(app, orderId, device, memberId);
	if (!order || order.paidAt === null || order.memberId === null) return null;
	const line = await lineOf(app.db, order.id);
	const account = await accountById(app.db, order.memberId);
	const plan = await planById(app.db, line.planId);
	if (!account?.email || !plan) return null;
	const session = memberId === null && device !== null ? await signInOnce(app, order, device) : null;
	const isIn = session !== null || memberId === account.id;
	return {
		number: order.number,
		planName: plan.name,
		totalMinor: order.totalMinor,
		currency: order.currency,
		email: account.email,
		landing: isIn ? await landingPath(app, line.planId, order.next) : '/account',
		session,
		isIn,
		isGivenBack: isIn && order.state === 'given-back'
	};
}

const TAKEN_BACK: ReadonlySet<PaymentStanding> = new Set(['refunded', 'disputed', 'lost']);

async function signInOnce(app: Transacting, order: Order, device: string): Promise<NewSession | null> {
	const { memberId, paidAt } = order;
	if (memberId === null || paidAt === null || order.state !== 'paid') return null;
	if (hashOf(device) !== order.deviceHash || app.clock.business() - paidAt >= SIGNS_IN_FOR_MS) return null;
	return transact(app, { id: memberId }, async (work) => {
		await lockAccount(work.tx, memberId);
		const account = await accountById(work.tx, memberId);
		if (account?.claimedByOrderId !== order.id || account.provedAt !== null) return null;
		const first = (await paymentsOfOrder(work.tx, order.id)).filter((one) => one.agreementId === null);
		if (first.some((payment) => TAKEN_BACK.has(standingOf(payment)))) return null;
		const [signed] = await work.tx
			.update(orders)
			.set({ signedInAt: work.now })
			.where(and(eq(orders.id, order.id), isNull(orders.signedInAt)));
		return signed.affectedRows === 1 ? beginSession(work, memberId, 'order') : null;
	});
}
