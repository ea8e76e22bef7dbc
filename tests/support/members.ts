import type { MemberAsk } from '$server/db/queries/member-list';

/** The list of members, narrowed by nothing. */
export const EVERYBODY: MemberAsk = {
	...{ search: '', order: '', page: 1, planId: null, labelId: null, state: null },
	...{ joined: { from: null, to: null }, ended: { from: null, to: null } }
};
