/** Keeps what an agreement moves of recurring income, as its facts say by now. */
import type { Beginning } from '$core/billing/agreement';
import type { AgreementFact } from '$core/billing/agreement-facts';
import { taxedAsAgreed, taxIn } from '$core/billing/tax';
import { incomeSteps, type IncomeStep } from '$core/measure/recurring';
import { localDay } from '$core/time/calendar';
import { originOf, type AgreementRow } from '../../db/queries/agreements';
import { heldOtherwise, keepSteps } from '../../db/queries/income';
import { siteSettings } from '../../db/queries/settings';
import type { Work } from '../../transact';

/** The agreement is locked. */
export async function keepIncome(
	{ tx }: Work,
	row: AgreementRow & { beginning: Beginning | null },
	facts: readonly AgreementFact[]
): Promise<void> {
	if (!row.beginning) throw new Error(`Agreement ${row.id} does not begin`);
	const { tax: rules, zone } = await siteSettings(tx);
	const netOf = (paidMinor: number, at: number) =>
		paidMinor - taxIn(paidMinor, taxedAsAgreed(rules, row.tax, localDay(at, zone)));
	const steps = incomeSteps(originOf(row), row.beginning, facts, netOf);
	const named: IncomeStep[] = [];
	for (const step of steps)
		named.push(step.why === 'new' && (await isBack(tx, row, step)) ? { ...step, why: 'back' } : step);
	await keepSteps(
		tx,
		row,
		named.map((step) => ({ ...step, day: localDay(step.at, zone) }))
	);
}

/** Somebody who paid by another agreement before, and by none when this one began. */
async function isBack(tx: Work['tx'], { id, memberId }: AgreementRow, { at }: IncomeStep): Promise<boolean> {
	const others = await heldOtherwise(tx, memberId, id, at);
	return others !== null && others === 0;
}
