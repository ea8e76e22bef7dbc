/** What each fence catches and what looks wrong, worked out once for a policy and a minute. */
import { inspect, type Inspection } from '$core/access/inspect';
import type { Policy } from '$core/access/policy';
import type { Instant } from '$core/time/instant';

const MINUTE_MS = 60_000;

const known = new WeakMap<Policy, { minute: number; inspection: Inspection }>();

export function inspected(policy: Policy, at: Instant): Inspection {
	const minute = Math.floor(at / MINUTE_MS);
	const last = known.get(policy);
	if (last?.minute === minute) return last.inspection;
	const inspection = inspect(policy, minute * MINUTE_MS);
	known.set(policy, { minute, inspection });
	return inspection;
}
