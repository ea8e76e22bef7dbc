/** What an agreement could be moved to. */
import { moveAt, type MoveAnswer } from '$core/billing/move';
import { sellsAt } from '$core/billing/plan-access';
import type { Handle } from '../connect';
import { courseNow, ownAgreement, paidFor, type AgreementRow } from './agreements';
import { plansWithPrices, type OfferedPlan, type OfferedPrice } from './sales';

/** A price that an agreement can be moved to, with what that asks for. */
export interface Movable {
	plan: OfferedPlan;
	price: OfferedPrice;
	answer: MoveAnswer;
}

export interface Moves {
	row: AgreementRow;
	/** What is held now. */
	plan: OfferedPlan;
	/** Rungs from the lowest; of each its prices. */
	to: Movable[];
}

/** Everything that a member's agreement could be moved to at a moment; `null`: it is none of theirs. */
export async function movesOf(
	db: Handle,
	memberId: string,
	agreementId: string,
	{ now, zone }: { now: number; zone: string }
): Promise<Moves | null> {
	const row = await ownAgreement(db, memberId, agreementId);
	if (!row) return null;
	const all = await plansWithPrices(db);
	const plan = all.find(({ id }) => id === row.planId);
	if (!plan) return null;
	const course = await courseNow(db, row);
	const standing = { rung: plan.rung, paidMinor: await paidFor(db, row) };
	const rungs = all
		.filter((one) => one.id === plan.id || (plan.ladderId !== null && one.ladderId === plan.ladderId))
		.filter((one) => one.id === plan.id || sellsAt(one, now))
		.sort((a, b) => a.rung - b.rung);
	const to = rungs.flatMap((target) =>
		target.prices.map((price) => {
			const { id: planId, rung, access } = target;
			const wanted = { planId, rung, access, terms: price.terms };
			return { plan: target, price, answer: moveAt(course, standing, wanted, zone, now) };
		})
	);
	return { row, plan, to };
}
