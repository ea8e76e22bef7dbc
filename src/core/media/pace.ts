/**
 * How quickly keys of a stream are given out: a bucket for each member and item, so that a client which does not help gets
 * a bounded part of a film before its access ends.
 *
 * A full bucket gives ten key groups at once (a minute of film), and one more for each `group length / highest speed` that
 * passes. A group that was given already costs nothing: other pictures of the same seconds, and going back.
 * Example: at twice the speed, groups of 6 s come back every 3 s.
 */
import type { Instant } from '../time/instant';
import { SEGMENT_SECONDS, SEGMENTS_PER_KEY } from './stream';

export const BURST_GROUPS = 10;
export const GROUP_MS = SEGMENT_SECONDS * SEGMENTS_PER_KEY * 1000;

/** The longest that an answer is held back: the stream library gives up after 8 s. */
export const LONGEST_WAIT_MS = 7000;

/** Groups that cost nothing when they are asked for again. */
const REMEMBERED_GROUPS = 64;

export interface Bucket {
	/** Groups that may be given at once, with a fraction. */
	level: number;
	at: Instant;
	given: number[];
}

export type Pace =
	/** Give it after so long. */
	| { kind: 'give'; afterMs: number; bucket: Bucket }
	/** Too fast by more than an answer can be held back: refuse, and say when to come again. */
	| { kind: 'refuse'; retryAfterMs: number };

export function fullBucket(now: Instant): Bucket {
	return { level: BURST_GROUPS, at: now, given: [] };
}

/** @param speed the highest that the player may play at, such as 2 */
export function paceKey(bucket: Bucket, group: number, speed: number, now: Instant): Pace {
	const perGroupMs = GROUP_MS / Math.max(1, speed);
	const level = Math.min(BURST_GROUPS, bucket.level + Math.max(0, now - bucket.at) / perGroupMs);
	if (bucket.given.includes(group))
		return { kind: 'give', afterMs: 0, bucket: { ...bucket, level, at: now } };
	const afterMs = level >= 1 ? 0 : Math.ceil((1 - level) * perGroupMs);
	if (afterMs > LONGEST_WAIT_MS) return { kind: 'refuse', retryAfterMs: afterMs };
	const given = [...bucket.given, group].slice(-REMEMBERED_GROUPS);
	// What is held back is taken in advance, so that those who ask side by side wait one after the other.
	return { kind: 'give', afterMs, bucket: { level: level - 1, at: now, given } };
}
