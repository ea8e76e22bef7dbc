/** Every kind of job: what it carries, which lane it waits in, how long it is tried. Nothing secret lies in a payload. */
import type { AgreementEvent } from '$core/billing/agreement-facts';
import type { Patience } from '$core/time/retry';
import type { Occasion } from '../mail/occasions';
import type { Lane } from '../db/schema/running';

export interface TakeIn {
	key: string;
	/** Whether it is copied, or stays in the store. */
	isCopied: boolean;
	homeId: string | null;
	actorId: string | null;
}

/** Another price for whoever has bought at an earlier one, some at a time. */
export interface Repricing {
	planId: string;
	priceId: string;
	/** That is paid from now on. */
	versionId: string;
	/** Whoever buys later buys at it. */
	boughtBy: number;
	/** The last that was looked at. */
	after: string;
}

export interface JobPayloads {
	prepare: { assetId: string };
	'take-in': TakeIn;
	charge: { agreementId: string; period: number; attempt: number };
	/** All of a payment that came in for nothing. */
	/** `lineId`: of several things, of this one alone. */
	'give-back': { paymentId: string; lineId?: string };
	refund: { refundId: string };
	'agreement-event': { agreementId: string; event: AgreementEvent };
	'card-expires': { cardRef: string };
	/** What is due for a period soon. */
	'renews-soon': { agreementId: string; period: number };
	/** Somebody is told of what was bought for them. */
	'tell-gift': { giftId: string };
	reprice: Repricing;
	'reprice-one': { agreementId: string; versionId: string };
	/** A member who began to buy, and did not pay, may be reminded. */
	remind: { orderId: string };
	/** Whoever waits for a plan is told that it is sold. */
	'tell-waiting': { planId: string };
	'end-pay-page': { paymentId: string };
	notified: { eventId: string };
	settle: { paymentId: string };
	/** A program is told what waits for it. */
	call: { listenerId: string };
	/** `joins`: where nobody has the address, a way to a free account. */
	/** `redemptionId`: what a code opened on a device, to be kept by whoever has the address. */
	'sign-in-mail': { email: string; next: string; joins?: true; redemptionId?: string };
	/** Somebody who typed an address wants to wait for a plan. */
	'wait-mail': { email: string; planId: string };
	mail: Occasion;
}
export type JobKind = keyof JobPayloads;

interface Kind {
	lane: Lane;
	patience: Patience;
	/** As Today calls it. */
	name: string;
}

const TWO_DAYS: Patience = { kind: 'for', ms: 48 * 3_600_000 };
const FOR_EVER: Patience = { kind: 'for-ever' };
const EIGHT_TIMES: Patience = { kind: 'tries', count: 8 };

export const KINDS: Record<JobKind, Kind> = {
	prepare: { lane: 'media', patience: EIGHT_TIMES, name: 'Preparing a file' },
	'take-in': { lane: 'media', patience: EIGHT_TIMES, name: 'Taking in an object' },
	charge: { lane: 'billing', patience: FOR_EVER, name: 'Charging a renewal' },
	'give-back': { lane: 'billing', patience: FOR_EVER, name: 'Refunding what came in for nothing' },
	refund: { lane: 'billing', patience: FOR_EVER, name: 'Refunding a payment' },
	'agreement-event': { lane: 'billing', patience: FOR_EVER, name: 'Moving a subscription on' },
	'card-expires': { lane: 'billing', patience: FOR_EVER, name: 'Looking at a card that is nearly over' },
	'renews-soon': {
		lane: 'billing',
		patience: FOR_EVER,
		name: 'Looking at a payment that is to be announced'
	},
	'tell-gift': { lane: 'billing', patience: FOR_EVER, name: 'Telling of a gift' },
	reprice: { lane: 'billing', patience: FOR_EVER, name: 'Changing a price for its members' },
	'reprice-one': { lane: 'billing', patience: FOR_EVER, name: 'Changing a price for a member' },
	remind: { lane: 'billing', patience: EIGHT_TIMES, name: 'Reminding of what was begun' },
	'tell-waiting': { lane: 'billing', patience: FOR_EVER, name: 'Telling a waiting list' },
	'end-pay-page': { lane: 'payments', patience: TWO_DAYS, name: 'Ending a pay page' },
	notified: { lane: 'payments', patience: FOR_EVER, name: 'Asking about a payment' },
	settle: { lane: 'payments', patience: FOR_EVER, name: 'Booking a payment' },
	// What is not answered waits with the call itself: the job has done its part.
	call: { lane: 'calls', patience: EIGHT_TIMES, name: 'Telling a program' },
	// Somebody waits for it: it never stands behind other mails.
	'sign-in-mail': { lane: 'sign-in', patience: TWO_DAYS, name: 'Mailing a way in' },
	'wait-mail': { lane: 'sign-in', patience: TWO_DAYS, name: 'Mailing a waiting list’s link' },
	mail: { lane: 'mail', patience: TWO_DAYS, name: 'Sending a mail' }
};

export function isJobKind(kind: string): kind is JobKind {
	return Object.hasOwn(KINDS, kind);
}

/** A job that was begun so often and never came to an end has ended the process that ran it. */
export const MAX_BEGINNINGS = 12;
