/** Who a member is for the tax of what they pay: where they live, and the number of their business. */
import { eq } from 'drizzle-orm';
import { taxedAsAgreed, termsTax, type TaxedBuyer } from '$core/billing/tax';
import { localDay } from '$core/time/calendar';
import type { Using } from '../../app';
import { livingAgreements, taxBuyerOf } from '../../db/queries/agreements';
import { lockAccount } from '../../db/queries/members';
import { siteSettings } from '../../db/queries/settings';
import { agreements } from '../../db/schema/sales';
import { transact, type Transacting } from '../../transact';
import { lockAgreement, turnAgreement } from './move-agreement';
import { readTaxedBuyer, type TaxWish, type TaxWishProblem } from './tax-order';

/** As it is now; `null`: nothing that they pay asks for it. */
export function ownTaxBuyer(app: Using<'clock' | 'db'>, memberId: string): Promise<TaxedBuyer | null> {
	return taxBuyerOf(app.db, memberId, app.clock.business());
}

export type ChangedTax = { ok: true } | { ok: false; code: TaxWishProblem };

/** Counts for what falls due from now on; what is paid stays as it was. */
export async function changeTaxBuyer(
	app: Transacting & Using<'geography'>,
	memberId: string,
	wish: TaxWish
): Promise<ChangedTax> {
	const read = readTaxedBuyer(app, wish);
	if (!read.ok) return read;
	const { buyer } = read;
	return transact(app, { id: memberId }, async (work): Promise<ChangedTax> => {
		await lockAccount(work.tx, memberId);
		const { tax: rules, zone } = await siteSettings(work.tx);
		for (const { id } of await livingAgreements(work.tx, memberId, work.now)) {
			const { tax: before } = await lockAgreement(work, id);
			if (!before) continue;
			const tax = { ...before, buyer };
			await work.tx.update(agreements).set({ tax }).where(eq(agreements.id, id));
			const taxed = taxedAsAgreed(rules, tax, localDay(work.now, zone));
			await turnAgreement(work, id, { kind: 'taxed', tax: termsTax(taxed) });
			await work.note({
				action: 'changed-tax',
				subject: { kind: 'subscription', id },
				...{ memberId, before: before.buyer, after: buyer }
			});
		}
		return { ok: true };
	});
}
