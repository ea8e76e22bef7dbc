/** An order as the Desk shows it, with its payments and what became of them. */
import { proofsOf } from '$core/billing/tax';
import { openedByPlan } from '$core/access/policy';
import { unusedOf } from '$core/billing/agreement-answers';
import type { Course } from '$core/billing/agreement-course';
import { withoutAsking } from '$core/billing/move';
import { refundable, standingOf } from '$core/billing/payment';
import type { Using } from '../../app';
import { codeOfOrder } from '../../db/queries/discounts';
import { giftById, giftOfOrder } from '../../db/queries/gifts';
import { accountById, grantsOfLine } from '../../db/queries/members';
import { countSeats } from '../../db/queries/seats';
import {
	agreementOfOrder,
	agreementRevision,
	courseNow,
	stepsNow,
	type AgreementRow
} from '../../db/queries/agreements';
import { moveRevision, movesOf } from '../../db/queries/moves';
import {
	disputesOf,
	lineOf,
	orderById,
	paymentsOfOrder,
	planById,
	refundsOf,
	type Payment
} from '../../db/queries/sales';

/** `null`: there is none, or none that stands at the Desk, for a stranger has not paid it. */
export async function orderPage(app: Using<'clock' | 'db' | 'rights' | 'site'>, id: string) {
	const order = await orderById(app.db, id);
	if (!order || order.memberId === null) return null;
	const line = await lineOf(app.db, order.id);
	const plan = await planById(app.db, line.planId);
	const account = await accountById(app.db, order.memberId);
	const agreement = await agreementOfOrder(app.db, order.id);
	const payments = await paymentsOfOrder(app.db, order.id);
	const course = agreement && (await courseNow(app.db, agreement));
	const gift = await giftOfOrder(app.db, order.id);
	return {
		order: {
			...{ number: order.number, state: order.state, createdAt: order.createdAt },
			processor: order.processor,
			postal: order.postal
		},
		member: { id: order.memberId, name: account?.name ?? 'a deleted account' },
		plan: { id: line.planId, name: plan?.name ?? 'a plan that is gone' },
		tax: order.tax?.buyer.country
			? { ...order.tax, proof: proofsOf(order.tax.buyer.country, order.tax.proofs) }
			: null,
		off: order.discount && { discount: order.discount, code: await codeOfOrder(app.db, order) },
		agreement: agreement && {
			id: agreement.id,
			seats: agreement.seats,
			people: agreement.seats > 1 ? await countSeats(app.db, agreement.id) : null,
			revision: agreementRevision(agreement),
			steps: await stepsNow(app.db, agreement, app.clock.business()),
			moves: await movesAtDesk(app, agreement),
			state: agreement.state,
			period: agreement.period,
			attempt: agreement.attempt,
			nextAt: agreement.nextAt,
			paidThrough: agreement.paidThrough,
			processor: agreement.processor
		},
		gift: gift && (await giftAtDesk(app, gift.id)),
		/** What it has given. */
		grants: await grantsOfLine(app.db, line.id, agreement?.grantId ?? null),
		now: app.clock.business(),
		opens: openedByPlan(await app.rights.policy(), line.planId).length,
		payments: await Promise.all(payments.map((payment) => paymentOf(app, payment, course)))
	};
}

/** Whom it is for, and how it stands. */
async function giftAtDesk(app: Using<'db'>, giftId: string) {
	const gift = await giftById(app.db, giftId);
	if (!gift) return null;
	const { id, email, state, tellAt, toldAt, openedAt, memberId } = gift;
	const holder = memberId === null ? null : await accountById(app.db, memberId);
	return {
		...{ id, email: email ?? '', state, tellAt, toldAt, openedAt },
		holder: memberId === null ? null : { id: memberId, name: holder?.name ?? 'a deleted account' }
	};
}

/** Where the publisher could move it to, each with when that would be. */
async function movesAtDesk(app: Using<'clock' | 'db' | 'site'>, { id, memberId }: AgreementRow) {
	const now = app.clock.business();
	const { zone, tax } = await app.site();
	const moves = await movesOf(app.db, memberId, id, { now, zone, tax });
	if (!moves) return [];
	const course = await courseNow(app.db, moves.row);
	return moves.to.flatMap(({ plan, price, answer: asked }) => {
		const answer = withoutAsking(course, asked);
		if (answer.kind === 'refused') return [];
		return [
			{
				seen: moveRevision(moves.row, answer),
				...{ priceId: price.priceId, plan: plan.name, price: price.name, terms: answer.terms },
				/** With the next due; `null`: at once. */
				at: answer.kind === 'next' ? answer.at : null,
				/** Of one at once: when its price is asked for first, where nothing is asked for now. */
				priceFrom: answer.kind === 'lower' ? answer.at : null,
				/** They could have it at once by paying. */
				asksNow: asked.kind === 'now' && asked.asksMinor > 0
			}
		];
	});
}

/** A payment with what became of it, and what may be refunded still. */
async function paymentOf(app: Using<'clock' | 'db'>, payment: Payment, course: Course | null) {
	const { id, period, attempt, amountMinor, currency, createdAt, processor, agreementId } = payment;
	const [back, taken] = await Promise.all([refundsOf(app.db, id), disputesOf(app.db, id)]);
	const leftMinor = refundable(payment);
	return {
		...{ id, period, attempt, amountMinor, currency, leftMinor, processor },
		isFirst: agreementId === null,
		/** Somebody has to say that it came in. */
		isWaitedFor: processor === 'offline' && payment.state === 'pending',
		at: createdAt,
		standing: standingOf(payment),
		unusedMinor: Math.min(leftMinor, course ? unusedOf(course, payment, app.clock.business()) : 0),
		refunds: back.map(({ id, amountMinor, endsAccess, why, askedAt, doneAt, cause }) => ({
			...{ id, amountMinor, endsAccess, why, askedAt, doneAt, cause }
		})),
		disputes: taken.map(({ id, amountMinor, state, openedAt, closedAt }) => ({
			...{ id, amountMinor, state, openedAt, closedAt }
		}))
	};
}
