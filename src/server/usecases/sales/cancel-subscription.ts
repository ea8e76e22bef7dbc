import type { Actor } from '../../app';
import { subscriptionById } from '../../db/queries/sales';
import { transact, type Transacting } from '../../transact';
import { commandSubscription, type CancelWhy } from './move-subscription';

export const CANCEL_REASONS = [
	'too-expensive',
	'no-time',
	'not-what-i-expected',
	'finished',
	'technical',
	'other'
] as const;
export type CancelReason = (typeof CANCEL_REASONS)[number];

export type Cancelled = { ok: true } | { ok: false; code: 'unknown' | 'has-ended' | 'not-cancelled' };

/** Access stays to the end of what is paid. Only the member's own subscription is found. */
export async function cancelSubscription(
	app: Transacting,
	memberId: string,
	subscriptionId: string,
	why: { reason: CancelReason; words: string }
): Promise<Cancelled> {
	return change(app, memberId, subscriptionId, 'cancel', { cancelWhy: why.reason, cancelWords: why.words });
}

/** Takes a cancellation back while the paid time runs. */
export async function resumeSubscription(
	app: Transacting,
	memberId: string,
	subscriptionId: string
): Promise<Cancelled> {
	return change(app, memberId, subscriptionId, 'resume');
}

async function change(
	app: Transacting,
	memberId: string,
	subscriptionId: string,
	kind: 'cancel' | 'resume',
	why?: CancelWhy
): Promise<Cancelled> {
	const found = await subscriptionById(app.db, subscriptionId);
	if (found?.memberId !== memberId) return { ok: false, code: 'unknown' };
	const actor: Actor = { id: memberId };
	const result = await transact(app, actor, (work) =>
		commandSubscription(work, subscriptionId, { kind }, why)
	);
	return result.kind === 'refused' ? { ok: false, code: result.why } : { ok: true };
}
