import type { SubscriptionEvent } from '$core/billing/subscription';
import type { App } from '../app';
import type { Mail } from '../ports/mail';
import { BrokenMedia } from '../ports/transcoder';
import { prepareMedia } from '../usecases/library/prepare-media';
import { takeIn, type TakeIn } from '../usecases/library/take-in';
import { chargeRenewal, giveBack } from '../usecases/sales/charge';
import { handleSubscriptionEvent } from '../usecases/sales/move-subscription';

export interface JobContext {
	onProgress: (share: number) => void;
	signal: AbortSignal;
}

type Handler = (app: App, payload: Record<string, unknown>, context: JobContext) => Promise<void>;

/** Payloads are written by Stile's own use cases, in the transaction that queued them. */
export const HANDLERS: Record<string, Handler> = {
	prepare: (app, payload, { onProgress, signal }) =>
		prepareMedia(app, payload.assetId as string, onProgress, signal),
	'take-in': (app, payload, { onProgress, signal }) =>
		takeIn(app, payload as unknown as TakeIn, onProgress, signal),
	charge: (app, payload) =>
		chargeRenewal(app, payload as { subscriptionId: string; period: number; attempt: number }),
	'give-back': (app, payload) => giveBack(app, payload.paymentId as string),
	'subscription-event': async (app, payload) => {
		const { subscriptionId, event } = payload as { subscriptionId: string; event: SubscriptionEvent };
		await handleSubscriptionEvent(app, null, subscriptionId, event);
	},
	mail: async (app, payload) => {
		const site = await app.site();
		const mail = payload as unknown as Mail;
		await app.mailer.send({ name: site.siteName, email: site.senderEmail }, mail);
	}
};

/** Failures that another try cannot mend. */
export function isFinal(error: unknown): boolean {
	return error instanceof BrokenMedia;
}
