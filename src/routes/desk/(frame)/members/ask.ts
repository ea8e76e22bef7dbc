import { daysAsked, idAsked, listAsk } from '$server/reads/desk/list-ask';
import { MEMBER_STATES, type MemberAsk } from '$server/reads/desk/members';

/** What the list is asked for by its address; what cannot be read is left out. */
export function memberAsk(url: URL, zone: string): MemberAsk {
	const state = url.searchParams.get('state');
	return {
		...listAsk(url),
		planId: idAsked(url, 'plan'),
		labelId: idAsked(url, 'label'),
		state: MEMBER_STATES.find((one) => one === state) ?? null,
		joined: daysAsked(url, 'came', zone),
		ended: daysAsked(url, 'ended', zone)
	};
}
