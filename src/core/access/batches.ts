/** Codes that are given out together: whether any of them can still be redeemed. */
import type { Instant } from '../time/instant';

export interface CodeBatchFacts {
	/** `null`: from the first moment on. */
	startsAt: Instant | null;
	/** `null`: for good. */
	endsAt: Instant | null;
	/** How often each may be redeemed; `null`: any number of times. */
	usesPerCode: number | null;
	codes: number;
	/** How often any of them was. */
	uses: number;
}

export const BATCH_STATES = ['running', 'early', 'used-up', 'over'] as const;
export type BatchState = (typeof BATCH_STATES)[number];

/** Over comes before used up: what has ended stays so, whatever is left of it. The end itself is past it. */
export function batchState(
	{ startsAt, endsAt, usesPerCode, codes, uses }: CodeBatchFacts,
	now: Instant
): BatchState {
	if (endsAt !== null && now >= endsAt) return 'over';
	if (usesPerCode !== null && uses >= codes * usesPerCode) return 'used-up';
	return startsAt !== null && now < startsAt ? 'early' : 'running';
}

/** Codes are compared in upper case, without spaces and hyphens. */
export function normaliseCode(typed: string): string {
	return typed.toUpperCase().replace(/[\s-]/g, '');
}
