/** Agreements, with what has become of them. */
import { and, asc, desc, eq, gt, inArray, isNull, notInArray, or } from 'drizzle-orm';
import { courseOf, type Beginning, type Origin } from '$core/billing/agreement';
import type { Course } from '$core/billing/agreement-course';
import { stepsFrom, type Foreseen } from '$core/billing/agreement-foreseen';
import type { AgreementFact, AgreementState } from '$core/billing/agreement-facts';
import { allocate } from '$core/billing/allocation';
import type { TaxedBuyer } from '$core/billing/tax';
import type { Handle } from '../connect';
import { revisionOf } from '../../revision';
import { grants } from '../schema/access';
import { agreementFacts, agreements, orderLines, payments, plans } from '../schema/sales';
import type { Payment } from './sales';

export type AgreementRow = typeof agreements.$inferSelect;

export async function agreementById(db: Handle, id: string): Promise<AgreementRow | null> {
	const [row] = await db.select().from(agreements).where(eq(agreements.id, id));
	return row ?? null;
}

/** A member's own; `null`: it is not theirs, or there is none. */
export async function ownAgreement(db: Handle, memberId: string, id: string): Promise<AgreementRow | null> {
	if (!/^[0-9a-f-]{36}$/.test(id)) return null;
	const row = await agreementById(db, id);
	return row?.memberId === memberId ? row : null;
}

/** Of what lists and previews say of it. */
export function agreementRevision(row: AgreementRow): string {
	const { state, period, attempt, paidThrough, nextAt, nextMinor } = row;
	return revisionOf({ state, period, attempt, paidThrough, nextAt, nextMinor });
}

/** Those that there are. */
export async function agreementsByIds(db: Handle, ids: readonly string[]): Promise<AgreementRow[]> {
	if (ids.length === 0) return [];
	return db
		.select()
		.from(agreements)
		.where(inArray(agreements.id, [...ids]))
		.orderBy(agreements.id);
}

/** What an order has begun or moved, in the order of its lines; also what others have moved since. */
export async function agreementsOfOrder(db: Handle, orderId: string): Promise<AgreementRow[]> {
	const rows = await db
		.select({ agreement: agreements })
		.from(orderLines)
		.innerJoin(agreements, eq(agreements.id, orderLines.agreementId))
		.where(eq(orderLines.orderId, orderId))
		.orderBy(orderLines.position);
	return rows.map(({ agreement }) => agreement);
}

/** The first of them; `null`: none. */
export async function agreementOfOrder(db: Handle, orderId: string): Promise<AgreementRow | null> {
	return (await agreementsOfOrder(db, orderId))[0] ?? null;
}

/** What a payment of an order has paid for each thing of it that has begun, joining fees apart, in minor units. */
export async function sharesOf(
	db: Handle,
	{ orderId, amountMinor, agreementId }: Pick<Payment, 'agreementId' | 'amountMinor' | 'orderId'>
): Promise<{ agreementId: string; amountMinor: number }[]> {
	if (agreementId !== null) return [{ agreementId, amountMinor }];
	const lines = await db
		.select({
			kind: orderLines.kind,
			totalMinor: orderLines.totalMinor,
			agreementId: orderLines.agreementId
		})
		.from(orderLines)
		.where(eq(orderLines.orderId, orderId))
		.orderBy(orderLines.position, orderLines.id);
	return allocate(amountMinor, lines).flatMap(({ kind, agreementId: of, paidMinor }) =>
		kind === 'fee' || of === null ? [] : [{ agreementId: of, amountMinor: paidMinor }]
	);
}

/** What a member holds of a plan, or of another rung of its ladder; `null`: nothing. */
export async function heldInPlaceOf(
	db: Handle,
	memberId: string,
	plan: { id: string; ladderId: string | null },
	now: number
): Promise<AgreementRow | null> {
	const living = await livingAgreements(db, memberId, now);
	const own = living.find(({ planId }) => planId === plan.id);
	if (own || plan.ladderId === null || living.length === 0) return own ?? null;
	const rungs = await db.select({ id: plans.id }).from(plans).where(eq(plans.ladderId, plan.ladderId));
	return living.find(({ planId }) => rungs.some(({ id }) => id === planId)) ?? null;
}

/** Agreements that have not ended, but for those whose access has run out when everything was paid. */
export async function livingAgreements(db: Handle, memberId: string, now: number): Promise<AgreementRow[]> {
	const rows = await db
		.select({ agreement: agreements })
		.from(agreements)
		.innerJoin(grants, eq(grants.id, agreements.grantId))
		.where(
			and(
				eq(agreements.memberId, memberId),
				or(
					notInArray(agreements.state, ['ended', 'finished']),
					and(
						eq(agreements.state, 'finished'),
						isNull(grants.revokedAt),
						or(isNull(grants.until), gt(grants.until, now))
					)
				)
			)
		);
	return rows.map(({ agreement }) => agreement);
}

/** Who a member is for the tax of what they pay still, as they said it last; `null`: none of it asks for that. */
export async function taxBuyerOf(db: Handle, memberId: string, now: number): Promise<TaxedBuyer | null> {
	const living = await livingAgreements(db, memberId, now);
	return living.find(({ tax, nextAt }) => tax !== null && nextAt !== null)?.tax?.buyer ?? null;
}

/** The first of what a member owes. */
export async function owedBy(
	db: Handle,
	memberId: string
): Promise<{ agreementId: string; plan: string } | null> {
	const [row] = await db
		.select({ agreementId: agreements.id, plan: plans.name })
		.from(agreements)
		.innerJoin(plans, eq(plans.id, agreements.planId))
		.where(and(eq(agreements.memberId, memberId), eq(agreements.state, 'owing')))
		.orderBy(agreements.id)
		.limit(1);
	return row ?? null;
}

export async function agreementsOf(db: Handle, memberId: string): Promise<AgreementRow[]> {
	return db
		.select()
		.from(agreements)
		.where(eq(agreements.memberId, memberId))
		.orderBy(desc(agreements.anchor));
}

/** The same, each with the order that it came from. */
export async function agreementsWithOrders(db: Handle, memberId: string) {
	const rows = await db
		.select({ agreement: agreements, orderId: orderLines.orderId })
		.from(agreements)
		.innerJoin(orderLines, eq(orderLines.id, agreements.orderLineId))
		.where(eq(agreements.memberId, memberId))
		.orderBy(desc(agreements.anchor));
	return rows.map(({ agreement, orderId }) => ({ ...agreement, orderId }));
}

/** All that was paid for it by orders and not refunded, joining fees apart, in minor units. */
export async function paidFor(db: Handle, { id }: AgreementRow): Promise<number> {
	const own = await db
		.select({ orderId: orderLines.orderId })
		.from(orderLines)
		.where(eq(orderLines.agreementId, id));
	const ids = own.map(({ orderId }) => orderId);
	const { orderId, agreementId, period, attempt, amountMinor, refundedMinor } = payments;
	const isOfOrder = and(inArray(payments.orderId, ids), isNull(payments.agreementId));
	const paid = await db
		.select({ orderId, agreementId, period, attempt, amountMinor, refundedMinor })
		.from(payments)
		.where(
			and(
				ids.length === 0 ? eq(payments.agreementId, id) : or(eq(payments.agreementId, id), isOfOrder),
				eq(payments.state, 'captured')
			)
		);
	let sum = 0;
	for (const { amountMinor: came, refundedMinor: back, ...of } of paid) {
		// What is found by the agreement may be what an order has paid: its joining fee is no part of it.
		const isAsked = of.agreementId !== null && of.period !== 0 && of.attempt !== 0;
		const share = async (minor: number) => {
			const asOf = isAsked ? of.agreementId : null;
			const all = await sharesOf(db, { orderId: of.orderId, agreementId: asOf, amountMinor: minor });
			const own = all.find((one) => one.agreementId === id)?.amountMinor ?? 0;
			return { own, isWhole: all.length === 1 };
		};
		const { own, isWhole } = await share(came);
		// Of several things, each bears its part of what went back.
		sum += isWhole ? Math.max(0, own - back) : (await share(came - back)).own;
	}
	return sum;
}

/** What was agreed to at joining. */
export function originOf({ agreed, anchor, zone }: AgreementRow): Origin {
	return { ...agreed, start: anchor, zone };
}

export function stateOf({ state, period, attempt, endReason }: AgreementRow): AgreementState {
	switch (state) {
		case 'renewing':
			return { kind: 'renewing', period, attempt: 1 };
		case 'owing':
			return { kind: 'owing', period, attempt: attempt || null, hasAccess: true };
		case 'resting':
			return { kind: 'resting', period, until: null };
		case 'ended':
			return { kind: 'ended', period, why: endReason ?? 'cancelled' };
		case 'first':
		case 'running':
		case 'ending':
		case 'finished':
			return { kind: state, period };
	}
}

export async function factsOf(db: Handle, id: string): Promise<AgreementFact[]> {
	const rows = await db
		.select({ fact: agreementFacts.fact })
		.from(agreementFacts)
		.where(eq(agreementFacts.agreementId, id))
		.orderBy(asc(agreementFacts.id));
	return rows.map(({ fact }) => fact);
}

/** What has become of an agreement by now, to be looked at. */
export async function courseNow(db: Handle, row: AgreementRow): Promise<Course> {
	return courseOf(originOf(row), beginningOf(row), await factsOf(db, row.id));
}

/** What somebody may want of it now, and what that would make of it. */
export async function stepsNow(db: Handle, row: AgreementRow, now: number): Promise<Foreseen[]> {
	return stepsFrom(originOf(row), beginningOf(row), await factsOf(db, row.id), now);
}

function beginningOf(row: AgreementRow): Beginning {
	return row.beginning ?? { state: stateOf(row), at: row.anchor, paid: [] };
}
