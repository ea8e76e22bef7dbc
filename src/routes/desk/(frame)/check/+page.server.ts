import { asOf } from '$server/http/as-of';
import { accountById } from '$server/db/queries/members';
import { timeline } from '$core/access/timeline';
import { deskNames } from '$server/http/names';
import { STRANGER } from '$server/rights/rights';
import { checkAddress, checkOne, membersOfItem } from '$server/usecases/access/check';
import type { PageServerLoad } from './$types';

const SHOWN = 500;

/** Any member, any item or address, any moment; an item alone is answered for all members. */
export const load: PageServerLoad = async ({ locals: { app }, url }) => {
	const { moment, policy } = await asOf(app, url);
	const memberId = url.searchParams.get('member');
	const itemId = url.searchParams.get('item');
	const address = url.searchParams.get('address') ?? '';
	const standing = memberId ? await app.rights.standing(memberId) : null;
	const account = standing ? await accountById(app.db, standing.viewer.id) : null;
	const viewer = standing?.viewer ?? STRANGER;
	const item = itemId ? (policy.resources.get(itemId) ?? null) : null;
	const found = item ? await checkOne(app, policy, viewer, item.id, moment.at) : null;
	const checked = !item && address ? checkAddress(policy, viewer, address, moment.at) : null;
	const at = item?.id ?? (checked?.ok ? checked.itemId : null);
	const stretches = at ? timeline(policy, viewer, at, moment.from, moment.to, moment.assume) : [];
	return {
		moment,
		marks: stretches.map(({ start }) => start),
		stretches,
		known: await deskNames(app),
		member: account && { id: account.id, name: account.name },
		itemId: item?.id ?? null,
		/** The item that was found by its address, too. */
		decidedId: at,
		address,
		found,
		checked,
		members: item && !account ? (await membersOfItem(app, policy, item.id, moment.at)).slice(0, SHOWN) : []
	};
};
