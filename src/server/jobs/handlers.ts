import { v7 as uuidv7 } from 'uuid';
import type { App } from '../app';
import { BrokenMedia } from '../ports/transcoder';
import { sendMail, sendSignInMail, sendWaitMail } from '../mail/send';
import { prepareMedia } from '../usecases/library/prepare-media';
import { takeIn } from '../usecases/library/take-in';
import { tellOfExpiry } from '../usecases/sales/change-card';
import { chargeRenewal } from '../usecases/sales/charge';
import { endPayPage } from '../usecases/sales/end-pay-page';
import { repriceAgreement, repriceSome } from '../usecases/plans/reprice';
import { handleAgreementEvent, tellOfRenewal } from '../usecases/sales/move-agreement';
import { settleById } from '../usecases/sales/settle-payment';
import { settleNotified } from '../usecases/sales/receive-notification';
import { carryOutRefund, giveBack } from '../usecases/sales/refund-payment';
import { remind } from '../usecases/sales/remind';
import { tellGift } from '../usecases/sales/tell-gift';
import { tellWaiting } from '../usecases/sales/waiting-list';
import { callListener } from '../usecases/running/tell-listeners';
import type { JobKind, JobPayloads } from './kinds';

export interface JobContext {
	jobId: string;
	onProgress: (share: number) => void;
	signal: AbortSignal;
}

type Handlers = { [K in JobKind]: (app: App, payload: JobPayloads[K], context: JobContext) => Promise<void> };

const HANDLERS: Handlers = {
	prepare: (app, { assetId }, { onProgress, signal }) => prepareMedia(app, assetId, onProgress, signal),
	'take-in': (app, payload, { onProgress, signal }) => takeIn(app, payload, onProgress, signal),
	charge: chargeRenewal,
	'give-back': (app, { paymentId, lineId }) => giveBack(app, paymentId, lineId ?? null),
	refund: async (app, { refundId }) => {
		await carryOutRefund(app, refundId);
	},
	'agreement-event': async (app, { agreementId, event }) => {
		await handleAgreementEvent(app, null, agreementId, event);
	},
	'card-expires': (app, { cardRef }) => tellOfExpiry(app, cardRef),
	'renews-soon': (app, { agreementId, period }) => tellOfRenewal(app, agreementId, period),
	'tell-gift': (app, { giftId }) => tellGift(app, giftId),
	reprice: (app, of) => repriceSome(app, of),
	'reprice-one': (app, { agreementId, versionId }) => repriceAgreement(app, agreementId, versionId),
	remind: (app, { orderId }) => remind(app, orderId),
	'tell-waiting': (app, { planId }) => tellWaiting(app, planId),
	'end-pay-page': (app, { paymentId }) => endPayPage(app, paymentId),
	settle: (app, { paymentId }) => settleById(app, paymentId),
	notified: (app, { eventId }) => settleNotified(app, eventId),
	call: (app, { listenerId }, { signal }) => callListener(app, listenerId, uuidv7(), signal),
	'sign-in-mail': (app, payload, { jobId }) => sendSignInMail(app, payload, jobId),
	'wait-mail': (app, payload, { jobId }) => sendWaitMail(app, payload, jobId),
	mail: (app, occasion, { jobId }) => sendMail(app, occasion, jobId)
};

/** Payloads are written by Stile's own use cases, by kind, in the transaction that queued them. */
export async function carryOut<K extends JobKind>(
	app: App,
	kind: K,
	payload: Record<string, unknown>,
	context: JobContext
): Promise<void> {
	await HANDLERS[kind](app, payload as unknown as JobPayloads[K], context);
}

/** Failures that another try cannot mend. */
export function isFinal(error: unknown): boolean {
	return error instanceof BrokenMedia;
}
