import type { PaymentStanding } from '$core/billing/payment';

export const PAYMENT_WORDS: Record<PaymentStanding, string> = {
	pending: 'Not paid yet',
	declined: 'Declined',
	expired: 'Ended unpaid',
	captured: 'Paid',
	'part-refunded': 'Refunded in part',
	refunded: 'Refunded',
	disputed: 'Disputed',
	won: 'Paid, dispute won',
	lost: 'Dispute lost'
};

export const CANCEL_WORDS = {
	'too-expensive': 'It costs too much',
	'no-time': 'I have no time for it',
	'not-what-i-expected': 'It is not what I expected',
	finished: 'I have seen what I wanted',
	technical: 'It did not work well for me',
	other: 'Something else'
} as const;

export const SOURCE_WORDS = {
	order: 'bought',
	subscription: 'by subscription',
	gift: 'a gift',
	seat: 'a seat that somebody bought',
	outside: 'bought elsewhere',
	hand: 'by hand',
	import: 'imported',
	'sign-up': 'at sign-up',
	code: 'by a code'
} as const;
