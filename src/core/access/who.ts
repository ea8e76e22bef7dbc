/** Who gets in where, at a moment: strangers, whoever is signed in, and whoever joins a plan then. */
import type { Instant } from '../time/instant';
import { decide } from './decide/decide';
import { STRANGER } from './model';
import { newcomer, signedUp } from './newcomers';
import type { Policy } from './policy';

const DAY_MS = 86_400_000;

/** `later`: after some time, or from a day that is the same for all of them. */
export type Entry =
	{ kind: 'open' } | { kind: 'later'; at: Instant; isFromJoining: boolean } | { kind: 'shut' };

export type WhoGetsIn =
	| { kind: 'anyone' }
	| { kind: 'signed-in' }
	/** By plan; plans that open nothing are left out. */
	| { kind: 'plans'; plans: { planId: string; entry: Exclude<Entry, { kind: 'shut' }> }[] };

/** @param resourceId of something that the policy knows; what is a draft lets nobody in */
export function whoGetsIn(policy: Policy, resourceId: string, now: Instant): WhoGetsIn {
	if (decide(policy, STRANGER, resourceId, now).verdict === 'open') return { kind: 'anyone' };
	// What new accounts are given is nothing that every account has.
	const account = signedUp({ plans: [], zone: policy.source.zone }, now);
	if (decide(policy, account, resourceId, now).verdict === 'open') return { kind: 'signed-in' };
	const plans = [...policy.plans.keys()].flatMap((planId) => {
		const entry = entryOf(policy, planId, resourceId, now);
		return entry.kind === 'shut' ? [] : [{ planId, entry }];
	});
	return { kind: 'plans', plans };
}

function entryOf(policy: Policy, planId: string, resourceId: string, now: Instant): Entry {
	const decision = decide(policy, newcomer(planId, now), resourceId, now);
	if (decision.verdict === 'open') return { kind: 'open' };
	const at = decision.opensAt;
	if (decision.verdict !== 'opens-later' || at === null) return { kind: 'shut' };
	// Whoever joined a day before gets in a day before, where it counts from joining.
	const earlier = decide(policy, newcomer(planId, now - DAY_MS), resourceId, now);
	const isFromJoining = earlier.verdict === 'open' || earlier.opensAt !== at;
	return { kind: 'later', at, isFromJoining };
}
