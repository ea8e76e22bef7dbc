/**
 * When a job that failed is tried again.
 *
 * Waits double from two seconds to an hour. How long somebody goes on trying depends on what it is: a mail that could not be
 * sent for two days says nothing new; money is never given up; a file that was refused eight times will be refused again.
 * Example: the third failure of a mail, queued a minute ago, is tried again after eight seconds.
 */
import type { Instant } from './instant';

export type Patience =
	/** Until so long after it was queued. */
	| { kind: 'for'; ms: number }
	/** So many tries. */
	| { kind: 'tries'; count: number }
	| { kind: 'for-ever' };

const FIRST_WAIT_MS = 2000;
const LONGEST_WAIT_MS = 3_600_000;
const MOST_DOUBLINGS = 12;

/**
 * @param attempts tries so far, at least 1
 * @returns the moment of the next try, or `null`: there is none
 */
export function nextTry(
	patience: Patience,
	attempts: number,
	queuedAt: Instant,
	now: Instant
): Instant | null {
	if (patience.kind === 'tries' && attempts >= patience.count) return null;
	const wait = Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** Math.min(attempts - 1, MOST_DOUBLINGS));
	if (patience.kind === 'for' && now + wait > queuedAt + patience.ms) return null;
	return now + wait;
}
