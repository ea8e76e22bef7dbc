/** What an agreement could be moved to. */
import { pricesIn } from '$core/billing/currencies';
import { moveAt, type MoveAnswer } from '$core/billing/move';
import { sellsAt } from '$core/billing/plan-access';
import { taxedOn, termsTax, type OrderTax, type TaxRules } from '$core/billing/tax';
import { seatedTerms } from '$core/billing/seats';
import { taxedTerms, type Terms } from '$core/billing/terms';
import { localDay } from '$core/time/calendar';
import type { Handle } from '../connect';
import { agreementRevision, courseNow, ownAgreement, paidFor, type AgreementRow } from './agreements';
import { withPlaces } from './places';
import { plansWithPrices, type OfferedPlan, type OfferedPrice } from './sales';

/** A price that an agreement can be moved to, with what that asks for. */
export interface Movable {
	plan: OfferedPlan;
	price: OfferedPrice;
	/** What it asks for, of all the people that it is for, with its tax. */
	terms: Terms;
	answer: MoveAnswer;
}

/** Of what the Desk says of a move before it is done: of the agreement as it stands, and when it would be. */
export function moveRevision(row: AgreementRow, { kind }: MoveAnswer): string {
	return `${agreementRevision(row)} ${kind}`;
}

export interface Moves {
	row: AgreementRow;
	/** What is held now. */
	plan: OfferedPlan;
	/** What is moved to is taxed like that. */
	tax: OrderTax;
	/** Rungs from the lowest; of each its prices. */
	to: Movable[];
}

/**
 * Everything that a member's agreement could be moved to at a moment; `null`: it is none of theirs.
 * @param seats for how many people; left out: for as many as now
 */
export async function movesOf(
	db: Handle,
	memberId: string,
	agreementId: string,
	{ now, zone, tax, seats }: { now: number; zone: string; tax: TaxRules; seats?: number }
): Promise<Moves | null> {
	const row = await ownAgreement(db, memberId, agreementId);
	if (!row) return null;
	const all = await withPlaces(db, await plansWithPrices(db), { now });
	const plan = all.find(({ id }) => id === row.planId);
	if (!plan) return null;
	const course = await courseNow(db, row);
	// Who they are for the tax is known; a price that is moved to is meant as prices are now.
	const buyer = row.tax?.buyer ?? { country: null, taxId: null };
	const taxed = taxedOn(tax, buyer, localDay(now, zone));
	const { rung, isDownAtOnce } = plan;
	const standing = { rung, isDownAtOnce, paidMinor: await paidFor(db, row) };
	const rungs = all
		.filter((one) => one.id === plan.id || (plan.ladderId !== null && one.ladderId === plan.ladderId))
		.filter((one) => one.id === plan.id || (sellsAt(one, now) && one.buyAt === null && one.soldTo === null))
		.sort((a, b) => a.rung - b.rung);
	const to = rungs.flatMap((target) =>
		// What is sold in what they pay in is not named in anything else.
		pricesIn(target.prices, [course.phases[0].terms.currency]).map((price) => {
			const { id: planId, rung, access } = target;
			const terms = taxedTerms(seatedTerms(price.terms, seats ?? row.seats), termsTax(taxed));
			const wanted = { planId, rung, access, terms };
			return { plan: target, price, terms, answer: moveAt(course, standing, wanted, zone, now) };
		})
	);
	return { row, plan, tax: { buyer, taxed, way: tax.way === 'none' ? null : tax.way, proofs: [] }, to };
}
