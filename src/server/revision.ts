/**
 * Two editors of one thing: each form carries what it began with, as a short digest. Whoever saves second is shown what the
 * first has saved, and chooses.
 */
import { createHash } from 'node:crypto';
import { canonical } from '$core/access/delta';

const LENGTH = 22;

export function revisionOf(value: unknown): string {
	return createHash('sha256').update(canonical(value)).digest('base64url').slice(0, LENGTH);
}

/** Takes a save back: somebody else has saved the same since it was opened. */
export class ChangedMeanwhile extends Error {
	readonly code = 'changed-meanwhile';
}

/** @param begun the revision that the editor began with; `null`: whatever is there is meant */
export function expectRevision(begun: string | null, now: unknown): void {
	if (begun !== null && begun !== revisionOf(now))
		throw new ChangedMeanwhile('Somebody else has saved this since it was opened');
}
