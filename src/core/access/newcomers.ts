/** Made-up people by whom the rules are tried: whoever joins a plan, and whoever signs up without one. */
import { accessEnd } from '../billing/plan-access';
import type { Instant } from '../time/instant';
import type { Grant, Member, PolicySource } from './model';

export function newcomer(planId: string, joinedAt: Instant): Member {
	return {
		kind: 'member',
		id: '',
		isStaff: false,
		since: joinedAt,
		grants: [
			{
				id: `newcomer-${planId}`,
				planId,
				from: joinedAt,
				until: null,
				revokedAt: null,
				source: 'order',
				renews: false,
				period: null
			}
		],
		tenures: [],
		redemptions: [],
		namings: []
	};
}

/** Whoever signs up holds what every new account is given. */
export function signedUp(source: Pick<PolicySource, 'plans' | 'zone'>, since: Instant): Member {
	return { ...newcomer('', since), grants: givenTo(source, since) };
}

/** What an account is given that is made at a moment. */
export function givenTo({ plans, zone }: Pick<PolicySource, 'plans' | 'zone'>, since: Instant): Grant[] {
	return plans.flatMap(({ id: planId, given }) => {
		if (!given || given.since > since) return [];
		const until = accessEnd(given.access, since, zone);
		if (until !== null && until <= since) return [];
		const made = { id: `new-${planId}`, planId, from: since, until, revokedAt: null };
		return [{ ...made, source: 'sign-up' as const, renews: false, period: null }];
	});
}
