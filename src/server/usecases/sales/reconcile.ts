import { and, eq, gt, isNotNull } from 'drizzle-orm';
import type { App } from '../../app';
import { payments } from '../../db/schema/sales';
import { settlePayment } from './settle-payment';

const LOOK_BACK_MS = 7 * 86_400_000;
const AT_ONCE = 500;

/** Asks the processor about every payment that still waits: what notifications and return pages have missed. */
export async function reconcile(app: App): Promise<number> {
	const since = app.clock.business() - LOOK_BACK_MS;
	const waiting = await app.db
		.select()
		.from(payments)
		.where(
			and(eq(payments.state, 'pending'), isNotNull(payments.processorRef), gt(payments.createdAt, since))
		)
		.limit(AT_ONCE);
	let settled = 0;
	for (const payment of waiting) {
		const state = await settlePayment(app, payment).catch((error: unknown) => {
			app.log.warn({ err: error, paymentId: payment.id }, 'could not reconcile a payment');
			return 'pending';
		});
		if (state !== 'pending') settled++;
	}
	return settled;
}
