/** A mail as it would arrive with words that are still being written: with made-up values, or as for an order that is there. */
import { eq } from 'drizzle-orm';
import type { Message } from '$core/billing/agreement-effects';
import type { MailKey, MailText } from '$words/en/mail';
import type { LanguageCode } from '$words/languages';
import type { Using } from '../app';
import { agreementOfOrder } from '../db/queries/agreements';
import { giftOfOrder } from '../db/queries/gifts';
import { paymentsOfOrder, refundsOf, type Order } from '../db/queries/sales';
import { orders } from '../db/schema/sales';
import type { Mail } from '../ports/mail';
import { compose, type Ways } from './compose';
import type { Occasion } from './occasions';
import { mailSample } from './sample';

export interface Drawn extends Omit<Mail, 'key'> {
	/** The order whose mail it is; `null`: its values are made up. */
	number: string | null;
}

export interface Draft {
	key: MailKey;
	language: LanguageCode;
	text: MailText;
	/** As somebody typed it; empty: made-up values. */
	number: string;
}

/** Nothing is sent, and no way in is made: the buttons lead nowhere. */
export async function drawMail(
	app: Using<'clock' | 'db' | 'keys' | 'rights' | 'settings' | 'site'>,
	draft: Draft
): Promise<Drawn> {
	const { language } = draft;
	const order = draft.number === '' ? null : await orderNumbered(app, draft.number);
	const occasion = order && (await occasionOf(app, draft.key, order));
	if (order && occasion) {
		const words = await compose({ ...app, language, ways: noWays(app, draft) }, occasion);
		if (words?.about === draft.key) return { ...words, number: order.number };
	}
	return { ...mailSample({ ...(await app.site()), language }, draft.key, draft.text), number: null };
}

const NO_WAY = 'a-way-in';

function noWays({ settings: { origin } }: Using<'settings'>, { key, text }: Draft): Ways {
	return {
		signIn: async () => `${origin}/enter/${NO_WAY}`,
		join: async () => `${origin}/enter/${NO_WAY}`,
		address: async () => `${origin}/account/address/${NO_WAY}`,
		words: async (asked) => (asked === key ? text : null)
	};
}

async function orderNumbered({ db }: Using<'db'>, number: string): Promise<Order | null> {
	const [row] = await db.select().from(orders).where(eq(orders.number, number.trim().toUpperCase()));
	return row ?? null;
}

/** What would have to happen to the order for a mail to be sent; `null`: the mail is about no order, or none like it. */
async function occasionOf({ db }: Using<'db'>, key: MailKey, order: Order): Promise<Occasion | null> {
	const orderId = order.id;
	switch (key) {
		case 'order':
		case 'order-later':
		case 'joined-plan':
		case 'joined-later':
			return { occasion: 'order', orderId };
		case 'had-already':
		case 'had-another':
		case 'had-free':
			return { occasion: 'had-already', orderId };
		case 'order-pay':
		case 'order-confirm':
		case 'join-plan':
			return { occasion: 'order-waits', orderId };
		case 'order-refused':
			return { occasion: 'order-refused', orderId, why: '' };
		case 'reminder':
			return { occasion: 'reminder', orderId };
		case 'gift':
		case 'gift-bought': {
			const gift = await giftOfOrder(db, orderId);
			return gift && { occasion: key, giftId: gift.id };
		}
		case 'to-pay': {
			const pending = (await paymentsOfOrder(db, orderId)).find(({ state }) => state === 'pending');
			return pending ? { occasion: 'to-pay', paymentId: pending.id } : null;
		}
		case 'refunded':
		case 'refunded-shut':
			for (const { id } of await paymentsOfOrder(db, orderId)) {
				const [refund] = await refundsOf(db, id);
				if (refund) return { occasion: 'refund', refundId: refund.id };
			}
			return null;
		default:
			return ofAgreement(db, key, orderId);
	}
}

async function ofAgreement(db: Using<'db'>['db'], key: MailKey, orderId: string): Promise<Occasion | null> {
	const agreement = await agreementOfOrder(db, orderId);
	if (!agreement) return null;
	const { id: agreementId, period, cardRef } = agreement;
	if (key === 'card-expires') return cardRef === null ? null : { occasion: 'card-expires', cardRef };
	if (key === 'renews-soon' || key === 'falls-due-soon')
		return { occasion: 'renews-soon', agreementId, period: period + 1 };
	const message = messageOf(key);
	return (
		message && { occasion: 'subscription', agreementId, message, period, hasEnded: key === 'cancelled-now' }
	);
}

const VARIANTS: Partial<Record<MailKey, Message>> = {
	'lapsed-unpaid': 'lapsed',
	'cancelled-now': 'cancelled',
	'declined-shut': 'payment-declined'
};
const MESSAGES: Record<Message, true> = {
	renewed: true,
	'payment-declined': true,
	lapsed: true,
	cancelled: true,
	resumed: true,
	rests: true,
	'goes-on': true,
	finished: true,
	moved: true,
	lowered: true,
	'moves-later': true,
	stays: true,
	'price-changes': true
};

function messageOf(key: MailKey): Message | null {
	return VARIANTS[key] ?? (Object.hasOwn(MESSAGES, key) ? (key as Message) : null);
}
