/**
 * What counts as one use of a file.
 *
 * A press makes a use; the first request beyond a probe takes it, before the first byte; everything asked for by the same
 * link is the same use; and it is given back where almost nothing was sent, of this use and of all that were given back before. Example: a player that asks for `bytes=0-1`
 * first takes nothing by it.
 */
import type { AskedBytes } from './byte-range';
import { lengthOf } from './byte-range';

/** Probes ask how long a file is, and whether ranges are answered. */
const PROBE_BYTES = 2;

/** A download that broke off before this share was none. */
const GIVEN_BACK_BELOW = 0.05;

export function isProbe(method: string, asked: AskedBytes): boolean {
	if (method === 'HEAD' || asked.kind === 'unsatisfiable') return true;
	return asked.kind === 'part' && asked.range.first === 0 && lengthOf(asked.range) <= PROBE_BYTES;
}

/**
 * Pieces do not make a whole for nothing: all that was ever sent of a file without counting is added up.
 * @param sent bytes of all responses of the use, and of all uses of the file by the same member that were given back
 * @param size of the file
 */
export function isGivenBack(sent: number, size: number): boolean {
	return sent < size * GIVEN_BACK_BELOW;
}

/** Requests that look ahead (Fetch Standard §3.8, `Sec-Purpose`): nobody has asked to see what they fetch. */
export function looksAhead(secPurpose: string | null | undefined): boolean {
	return /(?:^|[\s,;])prefetch(?:$|[\s,;])/i.test(secPurpose ?? '');
}
