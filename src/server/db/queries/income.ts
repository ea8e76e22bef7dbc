/** Recurring income, by the steps that move it. A step counts once its moment has come. */
import { and, asc, eq, gte, lt, lte, ne, sql } from 'drizzle-orm';
import { payingBy, type Paying, type StepSum } from '$core/measure/income-sheet';
import type { IncomeStep, Why } from '$core/measure/recurring';
import type { Change } from '$core/measure/stays';
import type { Handle, Tx } from '../connect';
import { accounts } from '../schema/people';
import { agreements, incomeSteps, orderLines } from '../schema/sales';
import type { AgreementRow } from './agreements';
import { total } from './lists';

const delta = sql<string>`sum(${incomeSteps.afterMinor} - ${incomeSteps.beforeMinor})`;

export type DatedStep = IncomeStep & { day: string };

/** Writes what is another than before, and nothing where it is the same. */
export async function keepSteps(
	tx: Tx,
	{ id: agreementId, memberId, isIncomeKept }: AgreementRow,
	steps: readonly DatedStep[]
): Promise<void> {
	const known = await tx
		.select()
		.from(incomeSteps)
		.where(eq(incomeSteps.agreementId, agreementId))
		.orderBy(asc(incomeSteps.at), asc(incomeSteps.id));
	const isSame =
		known.length === steps.length &&
		known.every((row, n) => {
			const { id: _, agreementId: __, memberId: ___, ...kept } = row;
			return spelled(kept) === spelled(steps[n]);
		});
	if (!isSame) {
		await tx.delete(incomeSteps).where(eq(incomeSteps.agreementId, agreementId));
		if (steps.length > 0)
			await tx.insert(incomeSteps).values(steps.map((step) => ({ ...step, agreementId, memberId })));
	}
	if (!isIncomeKept)
		await tx.update(agreements).set({ isIncomeKept: true }).where(eq(agreements.id, agreementId));
}

function spelled(step: DatedStep | undefined): string {
	if (!step) return '';
	const { at, day, planId, fromPlanId, currency, beforeMinor, afterMinor, why } = step;
	return JSON.stringify([at, day, planId, fromPlanId, currency, beforeMinor, afterMinor, why]);
}

/** What a member paid by other agreements at a moment; `null`: they had never paid by another. */
export async function heldOtherwise(
	tx: Tx,
	memberId: string,
	agreementId: string,
	before: number
): Promise<number | null> {
	const [row] = await tx
		.select({ steps: total, minor: delta.mapWith(Number) })
		.from(incomeSteps)
		.where(
			and(
				eq(incomeSteps.memberId, memberId),
				ne(incomeSteps.agreementId, agreementId),
				lt(incomeSteps.at, before)
			)
		);
	return row && row.steps > 0 ? row.minor : null;
}

/** Agreements of which the steps are not written yet. */
export async function withoutIncome(db: Handle, limit: number): Promise<string[]> {
	const rows = await db
		.select({ id: agreements.id })
		.from(agreements)
		.where(eq(agreements.isIncomeKept, false))
		.limit(limit);
	return rows.map(({ id }) => id);
}

/** What there was before a day. */
export async function incomeBefore(
	db: Handle,
	{ currency, before, now }: { currency: string; before: string; now: number }
): Promise<Paying> {
	const rows = await db
		.select({ why: incomeSteps.why, minor: delta.mapWith(Number), count: total })
		.from(incomeSteps)
		.where(and(eq(incomeSteps.currency, currency), lt(incomeSteps.day, before), lte(incomeSteps.at, now)))
		.groupBy(incomeSteps.why);
	return {
		minor: rows.reduce((sum, { minor }) => sum + minor, 0),
		count: rows.reduce((sum, { why, count }) => sum + payingBy(why, count), 0)
	};
}

export interface StepsAsked {
	currency: string;
	/** Days, `[from, before)`. */
	from: string;
	before: string;
	now: number;
}

const within = ({ currency, from, before, now }: StepsAsked) =>
	and(
		eq(incomeSteps.currency, currency),
		gte(incomeSteps.day, from),
		lt(incomeSteps.day, before),
		lte(incomeSteps.at, now)
	);

/** What moved it in a span, by month and kind. */
export async function stepSums(db: Handle, asked: StepsAsked): Promise<StepSum[]> {
	const month = sql<string>`left(${incomeSteps.day}, 7)`;
	return db
		.select({ month, why: incomeSteps.why, minor: delta.mapWith(Number), count: total })
		.from(incomeSteps)
		.where(within(asked))
		.groupBy(month, incomeSteps.why);
}

/** Each step of a span and kind, with whose it is and the order that it came from; as many as `limit` from the `skip`th on. */
export async function stepRows(
	db: Handle,
	asked: StepsAsked & { why: Why | null },
	{ limit, skip }: { limit: number; skip: number }
) {
	const which = and(within(asked), asked.why === null ? undefined : eq(incomeSteps.why, asked.why));
	const rows = await db
		.select({ step: incomeSteps, name: accounts.name, orderId: orderLines.orderId })
		.from(incomeSteps)
		.innerJoin(agreements, eq(agreements.id, incomeSteps.agreementId))
		.innerJoin(orderLines, eq(orderLines.id, agreements.orderLineId))
		.innerJoin(accounts, eq(accounts.id, incomeSteps.memberId))
		.where(which)
		.orderBy(asc(incomeSteps.at), asc(incomeSteps.id))
		.limit(limit)
		.offset(skip);
	const [all] = await db.select({ count: total }).from(incomeSteps).where(which);
	return { rows, total: all?.count ?? 0 };
}

/** Every change, in the order of their moments. */
export async function incomeChanges(db: Handle, currency: string, now: number): Promise<Change[]> {
	return db
		.select({
			memberId: incomeSteps.memberId,
			at: incomeSteps.at,
			deltaMinor: sql<string>`${incomeSteps.afterMinor} - ${incomeSteps.beforeMinor}`.mapWith(Number)
		})
		.from(incomeSteps)
		.where(and(eq(incomeSteps.currency, currency), lte(incomeSteps.at, now)))
		.orderBy(asc(incomeSteps.at), asc(incomeSteps.id));
}
