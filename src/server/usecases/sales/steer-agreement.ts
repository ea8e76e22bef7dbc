/** What members and the publisher want of an agreement: to end, rest or go on. Each sees first what that makes of it. */
import { commandOf, type Step } from '$core/billing/agreement-foreseen';
import type { Refusal } from '$core/billing/agreement-answers';
import type { Using } from '../../app';
import { agreementById, agreementRevision, courseNow } from '../../db/queries/agreements';
import { need, type Staff } from '../../people/need';
import { transact, type Transacting, type Work } from '../../transact';
import { commandAgreement, lockAgreement, type CancelWhy } from './move-agreement';

export const CANCEL_REASONS = [
	'too-expensive',
	'no-time',
	'not-what-i-expected',
	'finished',
	'technical',
	'other'
] as const;
export type CancelReason = (typeof CANCEL_REASONS)[number];

export type Steered =
	| { ok: true }
	/** `changed`: it is not any more what was looked at. `not-allowed`: members do not pause on this site. */
	| { ok: false; code: 'unknown' | 'changed' | 'not-allowed' | 'already-so' | Refusal };

/** Access stays to the end of what is paid. Only the member's own agreement is found. */
export async function cancelAgreement(
	app: Transacting,
	memberId: string,
	agreementId: string,
	why: { reason: CancelReason; words: string }
): Promise<Steered> {
	return steerOwn(app, memberId, agreementId, 'cancel', { cancelWhy: why.reason, cancelWords: why.words });
}

/** Takes a cancellation back while the paid time runs. */
export async function resumeAgreement(
	app: Transacting,
	memberId: string,
	agreementId: string
): Promise<Steered> {
	return steerOwn(app, memberId, agreementId, 'resume');
}

/** Pauses from the end of what is paid on, or goes on, where the site lets members do so. */
export async function pauseAgreement(
	app: Transacting & Using<'site'>,
	memberId: string,
	agreementId: string,
	step: Step
): Promise<Steered> {
	const { mayPause } = await app.site();
	if (step !== 'wake' && (!mayPause || !step.startsWith('rest'))) return { ok: false, code: 'not-allowed' };
	return steerOwn(app, memberId, agreementId, step);
}

async function steerOwn(
	app: Transacting,
	memberId: string,
	agreementId: string,
	step: Step,
	why?: CancelWhy
): Promise<Steered> {
	const found = await agreementById(app.db, agreementId);
	if (found?.memberId !== memberId) return { ok: false, code: 'unknown' };
	const steered = await transact(app, { id: memberId }, (work) => steer(work, found.id, step, why));
	// Whoever asks twice has what they want.
	return !steered.ok && steered.code === 'already-so' ? { ok: true } : steered;
}

/** @param seen the revision that was looked at: what has changed since is looked at again */
export async function steerAgreement(
	app: Transacting,
	actor: Staff,
	{ agreementId, step, seen }: { agreementId: string; step: Step; seen: string }
): Promise<Steered> {
	need(actor, 'members');
	const found = await agreementById(app.db, agreementId);
	if (!found) return { ok: false, code: 'unknown' };
	return transact(app, actor, async (work) => {
		const row = await lockAgreement(work, agreementId);
		if (agreementRevision(row) !== seen) return { ok: false, code: 'changed' };
		return steer(work, agreementId, step);
	});
}

async function steer(work: Work, id: string, step: Step, why?: CancelWhy): Promise<Steered> {
	// What a step means is read off behind the lock.
	const row = await lockAgreement(work, id);
	const command = commandOf(step, await courseNow(work.tx, row));
	const moved = await commandAgreement(work, row.id, command, why);
	if (moved.kind === 'moved') return { ok: true };
	return { ok: false, code: moved.kind === 'refused' ? moved.why : moved.kind };
}
