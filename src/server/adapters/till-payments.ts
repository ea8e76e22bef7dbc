import { createHash } from 'node:crypto';
import { PAYMENT_STATES, type PaymentState } from '$core/billing/payment';
import { verifyMessage } from '../http/message-signature';
import type { PaymentFact, Payments } from '../ports/payments';

const TIMEOUT_MS = 10_000;

interface TillPayment {
	ref: string;
	state: string;
	amountMinor: number;
	currency: string;
	cardRef: string | null;
	payUrl?: string;
}

export class PaymentsUnreachable extends Error {
	readonly code = 'payments-unreachable';
}

/** A processor that speaks the Till's protocol: JSON over HTTP, a bearer secret one way, signed notifications the other. */
export function tillPayments(baseUrl: string, secret: string): Payments {
	async function call(
		method: 'GET' | 'POST',
		path: string,
		key?: string,
		body?: unknown
	): Promise<TillPayment> {
		const headers: Record<string, string> = { authorization: `Bearer ${secret}` };
		if (body !== undefined) headers['content-type'] = 'application/json';
		if (key !== undefined) headers['idempotency-key'] = createHash('sha256').update(key).digest('hex');
		let response: Response;
		try {
			response = await fetch(baseUrl + path, {
				method,
				headers,
				body: body === undefined ? null : JSON.stringify(body),
				signal: AbortSignal.timeout(TIMEOUT_MS)
			});
		} catch (cause) {
			throw new PaymentsUnreachable('The payment processor does not answer', { cause });
		}
		if (!response.ok)
			throw new Error(`The payment processor answered ${response.status} to ${method} ${path}`);
		return (await response.json()) as TillPayment;
	}

	return {
		async openSession({ key, amount, text, statementName, returnUrl }) {
			const body = { amountMinor: amount.minor, currency: amount.currency, text, statementName, returnUrl };
			const { ref, payUrl } = await call('POST', '/api/sessions', key, body);
			if (!payUrl) throw new Error('The payment processor gave no page to pay on');
			return { ref, payUrl };
		},
		async charge({ key, cardRef, amount, text }) {
			const body = { cardRef, amountMinor: amount.minor, currency: amount.currency, text };
			return toFact(await call('POST', '/api/charges', key, body));
		},
		refund: async ({ key, ref }) =>
			toFact(await call('POST', `/api/payments/${encodeURIComponent(ref)}/refund`, key, {})),
		fetch: async (ref) => toFact(await call('GET', `/api/payments/${encodeURIComponent(ref)}`)),
		readNotification(incoming, wallNow) {
			const verified = verifyMessage(incoming, secret, Math.floor(wallNow / 1000));
			if (!verified.ok) return verified;
			try {
				const { eventId, paymentRef } = JSON.parse(new TextDecoder().decode(incoming.body)) as Record<
					string,
					unknown
				>;
				if (typeof eventId === 'string' && typeof paymentRef === 'string')
					return { ok: true, eventId, paymentRef };
			} catch {
				// Signed, but not ours to read.
			}
			return { ok: false, code: 'unreadable' };
		}
	};
}

function toFact({ ref, state, amountMinor, currency, cardRef }: TillPayment): PaymentFact {
	if (!PAYMENT_STATES.includes(state as PaymentState))
		throw new Error(`The payment processor reports an unknown state: ${state}`);
	return { ref, state: state as PaymentState, amount: { minor: amountMinor, currency }, cardRef };
}
