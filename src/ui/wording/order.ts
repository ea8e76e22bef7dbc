import type { OrderState } from '$core/billing/order';

/** What became of an order, as the Desk says it. */
export const ORDER_WORDS: Record<OrderState, string> = {
	open: 'Not paid yet',
	waiting: 'Waits for its money, without a card',
	'part-paid': 'Paid in part: the rest is waited for',
	refused: 'Refused: no money came in',
	paid: 'Paid',
	replaced: 'Begun anew elsewhere',
	expired: 'Ended unpaid',
	'given-back': 'Had it already: refunded'
};
