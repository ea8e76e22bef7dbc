/** What a code has opened, and until when, for whoever redeemed it. */
import { endOfGrant } from '$core/access/clock';
import { decide } from '$core/access/decide/decide';
import type { Viewer } from '$core/access/model';
import { newcomer } from '$core/access/newcomers';
import { redemptionById } from '../../db/queries/codes';
import type { Look, Looking } from '../../rights/look';
import { listFor } from './lists';

/** As many things are named; the others are counted. */
const MOST_NAMED = 20;

/** @returns `null`: there is no such thing, or it is somebody else's; `sign-in`: it stands in an account */
export async function redeemedPage(app: Looking, look: Look, id: string, deviceHash: string | null) {
	const found = await redemptionById(app.db, id);
	if (!found) return null;
	if (found.memberId !== null && look.memberId === null) return 'sign-in';
	const isTheirs =
		found.memberId === null ? found.deviceHash === deviceHash : found.memberId === look.memberId;
	if (!isTheirs) return null;
	const { planId, batchId, plan } = found;
	// Its grant tells what was ended since, and when that ends which was redeemed before redemptions said so.
	const given = look.viewer.grants.find(
		({ planId: id, source, from }) => id === planId && source === 'code' && from === found.at
	);
	const until = given ? endOfGrant(given) : found.until;
	const isOpenedBy = (itemId: string) => {
		const resource = look.policy.resources.get(itemId);
		if (!resource) return false;
		return look.policy
			.passage(resource)
			.ways.some(({ plans, crossing: { audience } }) =>
				planId === null ? audience.kind === 'code' && audience.batchId === batchId : plans?.has(planId)
			);
	};
	const all = await listFor(app, look, (item) => item.address !== null && isOpenedBy(item.id));
	const open = all.filter(({ verdict }) => verdict === 'open');
	const items = [...open, ...all.filter(({ verdict }) => verdict === 'opens-later')];
	// What is counted opens for nobody without an account.
	const waits = found.memberId === null;
	const member = asMember(look.viewer, found.at);
	const opensInAccount = ({ id: itemId, verdict }: (typeof all)[number]) =>
		verdict === 'shut' && decide(look.policy, member, itemId, look.now).verdict === 'open';
	return {
		plan: planId === null ? null : plan,
		until,
		isOver: until !== null && until <= look.now,
		/** Whether it is this device's alone so far. */
		waits,
		items: items.slice(0, MOST_NAMED),
		more: Math.max(0, items.length - MOST_NAMED),
		inAccount: waits ? all.filter(opensInAccount).length : 0,
		first: open[0]?.address ?? null
	};
}

function asMember({ grants, redemptions }: Viewer, since: number): Viewer {
	return { ...newcomer('', since), grants, redemptions };
}
