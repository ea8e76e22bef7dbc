/** What mails are sent for. A job carries the occasion and ids; words, addresses and ways in are made when it is sent. */
import type { Message } from '$core/billing/agreement-effects';

export type Occasion =
	| { occasion: 'invitation'; memberId: string; planId: string | null }
	/** A code is asked for when signing in, or no more, or a recovery code has signed somebody in. */
	| { occasion: 'second-factor'; memberId: string; what: 'on' | 'off' | 'recovery' }
	/** Another address is to be theirs: to that one. */
	| { occasion: 'new-address'; memberId: string; email: string; isByStaff: boolean }
	/** And is by now: to the one before. */
	| { occasion: 'address-changed'; memberId: string; old: string; at: number }
	/** Somebody is to work at the Desk. */
	| { occasion: 'staff'; memberId: string }
	/** What happened, to somebody of the staff who wishes to be told. */
	| { occasion: 'told'; accountId: string; batch: string; how: 'at-once' | 'daily' }
	| { occasion: 'order'; orderId: string }
	/** What is bought for somebody else was paid: to whoever gives it. */
	| { occasion: 'gift-bought'; giftId: string }
	/** And to whom it is for. */
	| { occasion: 'gift'; giftId: string }
	/** Somebody keeps a seat for them. */
	| { occasion: 'seat'; seatId: string }
	/** An order waits: for money that its buyer sends, or for a yes from the mailbox it was typed for. */
	| { occasion: 'order-waits'; orderId: string }
	/** What a member began to buy waits for them. */
	| { occasion: 'reminder'; orderId: string }
	/** What somebody waits for can be bought. */
	| { occasion: 'on-sale'; waitingId: string }
	/** The money has not come in, somebody says. */
	| { occasion: 'order-refused'; orderId: string; why: string }
	/** What is due is paid by the member themselves. */
	| { occasion: 'to-pay'; paymentId: string }
	/** What was bought was held already: the money goes back. */
	/** `lineId`: one of several things; left out: the whole order. */
	| { occasion: 'had-already'; orderId: string; lineId?: string }
	/** A card is nearly over to which something is still to be charged. */
	| { occasion: 'card-expires'; cardRef: string }
	/** What is due for a period is charged soon. */
	| { occasion: 'renews-soon'; agreementId: string; period: number }
	/** Money went back, whole or in part. */
	| { occasion: 'refund'; refundId: string }
	| {
			occasion: 'subscription';
			agreementId: string;
			message: Message;
			/** The period that counts for what is said. */
			period: number;
			hasEnded: boolean;
	  };
