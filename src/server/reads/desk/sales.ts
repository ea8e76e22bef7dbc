/** An order as the Desk shows it, with its payments and what became of them. */
import { proofsOf } from '$core/billing/tax';
import { openedByPlan } from '$core/access/policy';
import { unusedOf } from '$core/billing/agreement-answers';
import { withoutAsking } from '$core/billing/move';
import { refundable, standingOf } from '$core/billing/payment';
import type { Using } from '../../app';
import { codeOfOrder } from '../../db/queries/discounts';
import { giftById, giftOfOrder } from '../../db/queries/gifts';
import { accountById, grantsOfLine } from '../../db/queries/members';
import { countSeats } from '../../db/queries/seats';
import {
	agreementById,
	agreementRevision,
	courseNow,
	sharesOf,
	stepsNow,
	type AgreementRow
} from '../../db/queries/agreements';
import { moveRevision, movesOf } from '../../db/queries/moves';
import {
	disputesOf,
	mainLinesOf,
	orderById,
	paymentsOfOrder,
	planById,
	refundsOf,
	type OrderLine,
	type Payment
} from '../../db/queries/sales';

/** `null`: there is none, or none that stands at the Desk, for a stranger has not paid it. */
export async function orderPage(app: Using<'clock' | 'db' | 'rights' | 'site'>, id: string) {
	const order = await orderById(app.db, id);
	if (!order || order.memberId === null) return null;
	const account = await accountById(app.db, order.memberId);
	const payments = await paymentsOfOrder(app.db, order.id);
	const lines = await mainLinesOf(app.db, order.id);
	const policy = await app.rights.policy();
	const gift = await giftOfOrder(app.db, order.id);
	return {
		order: {
			...{ number: order.number, state: order.state, createdAt: order.createdAt },
			processor: order.processor,
			postal: order.postal
		},
		member: { id: order.memberId, name: account?.name ?? 'a deleted account' },
		tax: order.tax?.buyer.country
			? { ...order.tax, proof: proofsOf(order.tax.buyer.country, order.tax.proofs) }
			: null,
		code: await codeOfOrder(app.db, order),
		/** What it is of, each with what has become of it. */
		things: await Promise.all(lines.map((line) => thingAtDesk(app, line))),
		gift: gift && (await giftAtDesk(app, gift.id)),
		now: app.clock.business(),
		opens: new Set(lines.flatMap(({ planId }) => openedByPlan(policy, planId).map(({ id: item }) => item)))
			.size,
		payments: await Promise.all(payments.map((payment) => paymentOf(app, payment)))
	};
}

async function thingAtDesk(app: Using<'clock' | 'db' | 'rights' | 'site'>, line: OrderLine) {
	const plan = await planById(app.db, line.planId);
	const agreement = line.agreementId === null ? null : await agreementById(app.db, line.agreementId);
	return {
		id: line.id,
		plan: { id: line.planId, name: plan?.name ?? 'a plan that is gone' },
		totalMinor: line.totalMinor,
		discount: line.discount,
		opens: openedByPlan(await app.rights.policy(), line.planId).length,
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
		/** What it has given. */
		grants: await grantsOfLine(app.db, line.id, agreement?.grantId ?? null)
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

/** What the time is worth that a payment has paid for and that is still to come: of each thing, where it has paid for several. */
export async function unusedNow(app: Using<'clock' | 'db'>, payment: Payment): Promise<number> {
	const shares = await sharesOf(app.db, payment);
	let sum = 0;
	for (const { agreementId, amountMinor } of shares) {
		const row = await agreementById(app.db, agreementId);
		const { period } = payment;
		if (row) sum += unusedOf(await courseNow(app.db, row), { period, amountMinor }, app.clock.business());
	}
	return sum;
}

/** A payment with what became of it, and what may be refunded still. */
async function paymentOf(app: Using<'clock' | 'db'>, payment: Payment) {
	const { id, period, attempt, amountMinor, currency, createdAt, processor, agreementId } = payment;
	const [back, taken] = await Promise.all([refundsOf(app.db, id), disputesOf(app.db, id)]);
	const leftMinor = refundable(payment);
	return {
		...{ id, period, attempt, amountMinor, currency, leftMinor, processor },
		isFirst: agreementId === null,
		agreementId,
		/** Somebody has to say that it came in. */
		isWaitedFor: processor === 'offline' && payment.state === 'pending',
		at: createdAt,
		standing: standingOf(payment),
		unusedMinor: Math.min(leftMinor, await unusedNow(app, payment)),
		refunds: back.map(({ id, amountMinor, endsAccess, why, askedAt, doneAt, cause }) => ({
			...{ id, amountMinor, endsAccess, why, askedAt, doneAt, cause }
		})),
		disputes: taken.map(({ id, amountMinor, state, openedAt, closedAt }) => ({
			...{ id, amountMinor, state, openedAt, closedAt }
		}))
	};
}
