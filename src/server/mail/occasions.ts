/** What mails are sent for. A job carries the occasion and ids; words, addresses and ways in are made when it is sent. */
import type { Message } from '$core/billing/agreement-effects';

export type Occasion =
	| { occasion: 'invitation'; memberId: string; planId: string | null }
	/** Somebody is to work at the Desk. */
	| { occasion: 'staff'; memberId: string }
	/** What happened, to somebody of the staff who wishes to be told. */
	| { occasion: 'told'; accountId: string; batch: string; how: 'at-once' | 'daily' }
	| { occasion: 'order'; orderId: string }
	/** What was bought was held already: the money goes back. */
	| { occasion: 'had-already'; orderId: string }
	/** A card is nearly over to which something is still to be charged. */
	| { occasion: 'card-expires'; cardRef: string }
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
