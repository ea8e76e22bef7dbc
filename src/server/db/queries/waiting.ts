/** What is paid without a card and waits for somebody of the staff. */
import { and, eq, inArray, isNotNull, isNull, ne, or } from 'drizzle-orm';
import { AWAITED } from '$core/billing/order';
import type { Handle } from '../connect';
import { textOfOrder } from './sales';
import { accounts } from '../schema/people';
import { agreements, orders, payments, plans, refunds } from '../schema/sales';

/** Orders whose buyer's mailbox is known to be theirs, and what is due of members, the oldest first. */
export async function waitingPayments(db: Handle, limit: number) {
	return db
		.select({
			id: payments.id,
			orderId: orders.id,
			number: orders.number,
			memberId: accounts.id,
			name: accounts.name,
			/** As it is called by now. */
			plan: plans.name,
			line: textOfOrder,
			agreementId: payments.agreementId,
			period: payments.period,
			amountMinor: payments.amountMinor,
			currency: payments.currency,
			at: payments.createdAt
		})
		.from(payments)
		.innerJoin(orders, eq(orders.id, payments.orderId))
		.innerJoin(accounts, eq(accounts.id, payments.memberId))
		.leftJoin(agreements, eq(agreements.id, payments.agreementId))
		.leftJoin(plans, eq(plans.id, agreements.planId))
		.where(
			and(
				eq(payments.state, 'pending'),
				eq(payments.processor, 'offline'),
				or(
					isNotNull(payments.agreementId),
					and(inArray(orders.state, [...AWAITED]), isNotNull(orders.stoodByAt))
				)
			)
		)
		.orderBy(payments.id)
		.limit(limit);
}

/** Money that came in for nothing and has to be sent back by hand, the oldest first. */
export async function refundsToSend(db: Handle, limit: number) {
	return db
		.select({
			id: refunds.id,
			orderId: orders.id,
			number: orders.number,
			memberId: accounts.id,
			name: accounts.name,
			amountMinor: refunds.amountMinor,
			currency: payments.currency,
			at: refunds.askedAt
		})
		.from(refunds)
		.innerJoin(payments, eq(payments.id, refunds.paymentId))
		.innerJoin(orders, eq(orders.id, payments.orderId))
		.innerJoin(accounts, eq(accounts.id, payments.memberId))
		.where(and(isNull(refunds.doneAt), ne(payments.processor, 'card')))
		.orderBy(refunds.id)
		.limit(limit);
}
