/** Agreements, with what has become of them. */
import { and, asc, desc, eq, gt, isNull, notInArray, or } from 'drizzle-orm';
import { courseOf, type Beginning, type Origin } from '$core/billing/agreement';
import type { Course } from '$core/billing/agreement-course';
import { stepsFrom, type Foreseen } from '$core/billing/agreement-foreseen';
import type { AgreementFact, AgreementState } from '$core/billing/agreement-facts';
import type { Handle } from '../connect';
import { revisionOf } from '../../revision';
import { grants } from '../schema/access';
import { agreementFacts, agreements, orderLines, plans } from '../schema/sales';

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

export async function agreementOfOrder(db: Handle, orderId: string): Promise<AgreementRow | null> {
	const [row] = await db
		.select({ agreement: agreements })
		.from(agreements)
		.innerJoin(orderLines, eq(orderLines.id, agreements.orderLineId))
		.where(eq(orderLines.orderId, orderId));
	return row?.agreement ?? null;
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
