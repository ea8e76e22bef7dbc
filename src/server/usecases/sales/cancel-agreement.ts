import type { Refusal } from '$core/billing/agreement-answers';
import type { Actor } from '../../app';
import { agreementById } from '../../db/queries/agreements';
import { transact, type Transacting } from '../../transact';
import { commandAgreement, type CancelWhy } from './move-agreement';

export const CANCEL_REASONS = [
	'too-expensive',
	'no-time',
	'not-what-i-expected',
	'finished',
	'technical',
	'other'
] as const;
export type CancelReason = (typeof CANCEL_REASONS)[number];

export type Cancelled = { ok: true } | { ok: false; code: 'unknown' | Refusal };

/** Access stays to the end of what is paid. Only the member's own agreement is found. */
export async function cancelAgreement(
	app: Transacting,
	memberId: string,
	agreementId: string,
	why: { reason: CancelReason; words: string }
): Promise<Cancelled> {
	return change(app, memberId, agreementId, 'cancel', { cancelWhy: why.reason, cancelWords: why.words });
}

/** Takes a cancellation back while the paid time runs. */
export async function resumeAgreement(
	app: Transacting,
	memberId: string,
	agreementId: string
): Promise<Cancelled> {
	return change(app, memberId, agreementId, 'resume');
}

async function change(
	app: Transacting,
	memberId: string,
	agreementId: string,
	kind: 'cancel' | 'resume',
	why?: CancelWhy
): Promise<Cancelled> {
	const found = await agreementById(app.db, agreementId);
	if (found?.memberId !== memberId) return { ok: false, code: 'unknown' };
	const actor: Actor = { id: memberId };
	const result = await transact(app, actor, (work) => commandAgreement(work, agreementId, { kind }, why));
	return result.kind === 'refused' ? { ok: false, code: result.why } : { ok: true };
}
