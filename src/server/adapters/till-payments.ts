import { createHash } from 'node:crypto';
import { PAYMENT_STATES, type DisputeState, type PaymentState } from '$core/billing/payment';
import { verifyMessage } from './message-signature';
import { RefundRefused, type Card, type CardFact, type PaymentFact, type Processor } from '../ports/payments';

const TIMEOUT_MS = 10_000;

interface TillPayment {
	ref: string;
	state: string;
	amountMinor: number;
	currency: string;
	card?: Card | null;
	isCardOnly?: boolean;
	payUrl?: string;
	/** This and every moment: ISO 8601. */
	settledAt?: string;
	refunds?: { ref: string; own: string | null; amountMinor: number; at: string }[];
	disputes?: {
		ref: string;
		amountMinor: number;
		state: DisputeState;
		openedAt: string;
		closedAt: string | null;
	}[];
}

export class PaymentsUnreachable extends Error {
	readonly code = 'payments-unreachable';
}

export class UnknownPayment extends Error {
	readonly code = 'unknown-payment';
}

/** A processor that speaks the Till's protocol: JSON over HTTP, a bearer secret one way, signed notifications the other. */
export function tillPayments(baseUrl: string, secret: string): Processor {
	async function ask(method: 'GET' | 'POST', path: string, key?: string, body?: unknown): Promise<unknown> {
		const headers: Record<string, string> = { authorization: `Bearer ${secret}` };
		if (body !== undefined) headers['content-type'] = 'application/json';
		if (key !== undefined) headers['idempotency-key'] = hashOf(key);
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
		if (response.status === 404) throw new UnknownPayment(`The payment processor does not know ${path}`);
		if (response.status === 409) throw new RefundRefused(`The payment processor refuses ${path}`);
		if (!response.ok)
			throw new Error(`The payment processor answered ${response.status} to ${method} ${path}`);
		return response.json();
	}
	const call = async (...asked: Parameters<typeof ask>) => (await ask(...asked)) as TillPayment;
	const known = <T>(path: string, read: (payment: TillPayment) => T): Promise<T | null> =>
		call('GET', path).then(read, (error: unknown) => {
			if (error instanceof UnknownPayment) return null;
			throw error;
		});
	const session = async (path: string, key: string, body: unknown) => {
		const { ref, payUrl } = await call('POST', path, key, body);
		if (!payUrl) throw new Error('The payment processor gave no page to pay on');
		return { ref, payUrl };
	};

	return {
		payOrigins: [new URL(baseUrl).origin],
		vault: {
			openSession: ({ key, ...rest }) => session('/api/cards', key, rest),
			fetch: (ref) => known(`/api/payments/${encodeURIComponent(ref)}`, toCardFact)
		},
		openSession({ key, amount: { minor: amountMinor, currency }, ...rest }) {
			return session('/api/sessions', key, { amountMinor, currency, ...rest });
		},
		async endSession(ref) {
			const path = `/api/sessions/${encodeURIComponent(ref)}/end`;
			await call('POST', path, path, {}).catch((error: unknown) => {
				// Where nobody knows the page, nobody can pay on it.
				if (!(error instanceof UnknownPayment)) throw error;
			});
		},
		async charge({ key, cardRef, amount, text }) {
			if (cardRef === null) throw new Error('There is no card to charge');
			const body = { cardRef, amountMinor: amount.minor, currency: amount.currency, text };
			return toFact(await call('POST', '/api/charges', key, body));
		},
		findCharge: (key) => known(`/api/charges/${hashOf(key)}`, toFact),
		async refund({ own, ref, amountMinor }) {
			const path = `/api/payments/${encodeURIComponent(ref)}/refund`;
			return toFact(await call('POST', path, `refund:${own}`, { own, amountMinor }));
		},
		fetch: (ref) => known(`/api/payments/${encodeURIComponent(ref)}`, toFact),
		async changedSince(cursor) {
			const after = encodeURIComponent(cursor ?? '0');
			const { payments, next } = (await ask('GET', `/api/changes?after=${after}`)) as {
				payments: TillPayment[];
				next: number;
			};
			const isCard = ({ isCardOnly = false }: TillPayment) => isCardOnly;
			return {
				facts: payments.filter((one) => !isCard(one)).map(toFact),
				cards: payments.filter(isCard).map(toCardFact),
				cursor: String(next)
			};
		},
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

function hashOf(key: string): string {
	return createHash('sha256').update(key).digest('hex');
}

function stateOf({ state }: TillPayment): PaymentState {
	if (!PAYMENT_STATES.includes(state as PaymentState))
		throw new Error(`The payment processor reports an unknown state: ${state}`);
	return state as PaymentState;
}

function toCardFact(payment: TillPayment): CardFact {
	return { ref: payment.ref, state: stateOf(payment), card: payment.card ?? null };
}

function toFact(payment: TillPayment): PaymentFact {
	const { ref, amountMinor, currency, card = null, refunds = [], disputes = [] } = payment;
	return {
		ref,
		state: stateOf(payment),
		amount: { minor: amountMinor, currency },
		card,
		settledAt: momentOf(payment.settledAt),
		refunds: refunds.map((refund) => ({ ...refund, at: momentOf(refund.at) })),
		disputes: disputes.map((dispute) => ({
			...dispute,
			openedAt: momentOf(dispute.openedAt),
			closedAt: momentOf(dispute.closedAt)
		}))
	};
}

function momentOf(text: string | null | undefined): number | null {
	const at = Date.parse(text ?? '');
	return Number.isFinite(at) ? at : null;
}
