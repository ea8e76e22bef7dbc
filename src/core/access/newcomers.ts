/** Made-up people by whom the rules are tried: whoever joins a plan, and whoever signs up without one. */
import type { Instant } from '../time/instant';
import type { Member } from './model';

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

export function signedUp(since: Instant): Member {
	return { ...newcomer('', since), grants: [] };
}
