/** What somebody finds at an address who has nothing and knows nothing: for whoever hands the address on. */
import type { Instant } from '../time/instant';
import { decide } from './decide/decide';
import { STRANGER } from './model';
import { offersAt } from './offers';
import type { Policy } from './policy';

export type StrangerFinds =
	| { kind: 'open' }
	/** Nothing yet, or no more. */
	| { kind: 'draft' | 'archived' }
	| { kind: 'scheduled'; at: Instant | null }
	/** A notice, and plans by which it opens. */
	| { kind: 'notice'; planIds: string[] }
	| { kind: 'sent'; to: string }
	| { kind: 'absent' };

/** @returns `null` where there is no such resource */
export function strangerFinds(policy: Policy, resourceId: string, now: Instant): StrangerFinds | null {
	const resource = policy.resources.get(resourceId);
	if (!resource) return null;
	const { state, publishAt } = resource;
	if (state === 'draft' || state === 'archived') return { kind: state };
	if (state === 'scheduled' && (publishAt === null || publishAt > now))
		return { kind: 'scheduled', at: publishAt };
	const decision = decide(policy, STRANGER, resourceId, now);
	if (decision.verdict === 'open') return { kind: 'open' };
	const { answer } = decision;
	if (answer.kind !== 'notice')
		return answer.kind === 'sent' ? { kind: 'sent', to: answer.to } : { kind: 'absent' };
	const offers = offersAt(policy, STRANGER, resourceId, now);
	return { kind: 'notice', planIds: offers.map(({ planId }) => planId) };
}
