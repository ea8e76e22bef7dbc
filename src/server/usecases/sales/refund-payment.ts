import { paymentById } from '../../db/queries/sales';
import { transact } from '../../transact';
import { applyFact } from './settle-payment';
import { need, type Staff } from '../../people/need';
import type { Selling } from './selling';

export type Refunded = { ok: true } | { ok: false; code: 'unknown' | 'not-captured' };

/** Gives a payment back; access that it paid for ends at once. */
export async function refundPayment(
	app: Selling,
	actor: Staff,
	paymentId: string,
	why: string
): Promise<Refunded> {
	need(actor, 'refunds');
	const payment = await paymentById(app.db, paymentId);
	if (!payment?.processorRef) return { ok: false, code: 'unknown' };
	if (payment.state !== 'captured' && payment.state !== 'won') return { ok: false, code: 'not-captured' };
	await transact(app, actor, (work) =>
		work.note({
			action: 'asked-refund',
			subject: { kind: 'payment', id: payment.id },
			...(payment.memberId === null ? {} : { memberId: payment.memberId }),
			why
		})
	);
	const fact = await app.payments.refund({ key: `refund:${payment.id}`, ref: payment.processorRef });
	const state = await applyFact(app, payment.id, fact);
	// Disputed at the same moment: then the bank has taken it back already.
	return state === 'refunded' ? { ok: true } : { ok: false, code: 'not-captured' };
}
