import { readLocal } from '$core/time/calendar';
import { listAsk } from '$server/reads/desk/list-ask';
import { MEMBER_STATES, type MemberAsk } from '$server/reads/desk/members';

const DAY_MS = 86_400_000;
const ID = /^[0-9a-f-]{36}$/;

/** What the list is asked for by its address; what cannot be read is left out. Days are the publisher's, and wholly in it. */
export function memberAsk(url: URL, zone: string): MemberAsk {
	const said = (name: string) => url.searchParams.get(name) ?? '';
	const id = (name: string) => (ID.test(said(name)) ? said(name) : null);
	const day = (name: string, isEnd: boolean) => {
		const read = readLocal(said(name).slice(0, 10), zone);
		if (!read.ok) return null;
		// A day has 23, 24 or 25 hours: the next begins where its date says.
		const next = new Date(Date.parse(`${said(name).slice(0, 10)}T00:00Z`) + DAY_MS).toISOString();
		const after = readLocal(next.slice(0, 10), zone);
		return isEnd ? (after.ok ? after.at : null) : read.at;
	};
	return {
		...listAsk(url),
		planId: id('plan'),
		labelId: id('label'),
		state: MEMBER_STATES.find((state) => state === said('state')) ?? null,
		joined: { from: day('came', false), to: day('came-to', true) },
		ended: { from: day('ended', false), to: day('ended-to', true) }
	};
}
