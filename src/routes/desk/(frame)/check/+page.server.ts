import { VERDICTS } from '$core/access/decision';
import { asOf } from '$server/http/as-of';
import { accountById, accountNames } from '$server/db/queries/members';
import { timeline } from '$core/access/timeline';
import { namesIn } from '$server/http/names';
import { pageOf } from '$server/http/page-of';
import { STRANGER } from '$server/rights/rights';
import { checkAddress, checkOne, membersOfItem } from '$server/usecases/access/check';
import type { PageServerLoad } from './$types';

const PAGE_SIZE = 100;

/** Any member, any item or address, any moment; an item alone is answered for all members. */
export const load: PageServerLoad = async ({ locals: { app, viewer: staff }, url }) => {
	const { moment, policy } = await asOf(app, url);
	const seesMembers = staff?.permissions.has('members') === true;
	const memberId = seesMembers ? url.searchParams.get('member') : null;
	const itemId = url.searchParams.get('item');
	const address = url.searchParams.get('address') ?? '';
	const standing = memberId ? await app.rights.standing(memberId) : null;
	const account = standing ? await accountById(app.db, standing.viewer.id) : null;
	const viewer = standing?.viewer ?? STRANGER;
	const item = itemId ? (policy.resources.get(itemId) ?? null) : null;
	const found = item ? await checkOne(app, policy, viewer, item.id, moment.at) : null;
	const checked = !item && address ? checkAddress(policy, viewer, address, moment.at) : null;
	const at = item?.id ?? (checked?.ok ? checked.itemId : null);
	const state = VERDICTS.find((one) => one === url.searchParams.get('state')) ?? null;
	const everybody =
		item && !account && seesMembers ? await membersOfItem(app, policy, item.id, moment.at) : [];
	const { rows, ...members } = pageOf(everybody, state, url, PAGE_SIZE);
	const names = await accountNames(
		app.db,
		rows.map(({ id }) => id)
	);
	const stretches = at ? timeline(policy, viewer, at, moment.from, moment.to, moment.assume) : [];
	return {
		moment,
		seesMembers,
		marks: stretches.map(({ start }) => start),
		stretches,
		known: await namesIn(app, [itemId, at, found, checked]),
		member: account && { id: account.id, name: account.name },
		itemId: item?.id ?? null,
		/** The item that was found by its address, too. */
		decidedId: at,
		address,
		found,
		checked,
		members: { ...members, rows: rows.map((one) => ({ ...one, name: names.get(one.id) ?? '' })) }
	};
};
