/** An agreement begins of what an order has paid, with the grant that it keeps. */
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { GrantSource } from '$core/access/model';
import { courseOf, joinedAt } from '$core/billing/agreement';
import type { Charge } from '$core/billing/agreement-facts';
import { beginsAt } from '$core/billing/plan-access';
import type { Agreed } from '$core/billing/phases';
import { agreementById } from '../../db/queries/agreements';
import type { Order, OrderLine } from '../../db/queries/sales';
import { agreements, orderLines } from '../../db/schema/sales';
import type { Work } from '../../transact';
import { grantTo } from '../access/granting';
import { beginAgreement, outcomeOf } from './move-agreement';
import { agreedTax } from './tax-order';

export interface Entering {
	/** Whose it is. */
	memberId: string;
	order: Order;
	line: OrderLine;
	agreed: Agreed;
	/** What has paid for the first period. */
	charge: Charge;
	/** Whom more is asked of. */
	cardRef: string | null;
	source: GrantSource;
	/** The publisher's. */
	zone: string;
	/** The plan's, as it is now. */
	firstDay: number | null;
}

export async function enterAgreement(work: Work, entering: Entering): Promise<void> {
	const { memberId, order, line, agreed, charge, cardRef, source, zone } = entering;
	const start = beginsAt(entering, work.now);
	const beginning = { ...joinedAt(work.now), paid: [charge] };
	const id = uuidv7();
	const [grantId = ''] = await grantTo(work, [
		{
			...{ memberId, planId: line.planId, from: start, until: null, orderLineId: line.id },
			...{ source, by: source === 'gift' ? 'gift' : 'order', order: order.number }
		}
	]);
	await work.tx.insert(agreements).values({
		id,
		memberId,
		orderLineId: line.id,
		priceVersionId: line.priceVersionId,
		agreed,
		tax: agreedTax(order),
		seats: order.seats,
		grantId,
		beginning,
		// With the steps that it begins with.
		isIncomeKept: true,
		cardRef,
		processor: order.processor,
		anchor: start,
		zone,
		...outcomeOf(courseOf({ ...agreed, start, zone }, beginning, []))
	});
	await work.tx.update(orderLines).set({ agreementId: id }).where(eq(orderLines.id, line.id));
	const agreement = await agreementById(work.tx, id);
	if (!agreement) throw new Error('The agreement was not written');
	await beginAgreement(work, agreement);
}
