/** Plans that are shown and sold only to those who may open something else. */
import { eq } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { offersAt } from '$core/access/offers';
import { movesOf } from '$server/db/queries/moves';
import { agreementsOf } from '$server/db/queries/agreements';
import { orderById, paymentsOf, planById } from '$server/db/queries/sales';
import { accounts } from '$server/db/schema/people';
import { planPage as planAtDesk } from '$server/reads/desk/plans';
import { planPage, plansNamed, plansOffered, planToBuy } from '$server/reads/front/shop';
import { lookOf } from '$server/rights/look';
import { addMember } from '$server/usecases/accounts/run-members';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { saveFence } from '$server/usecases/fences/save-fence';
import { createPlan, editPlan, planRevision, type PlanWish } from '$server/usecases/plans/save-plan';
import { isStillReminded } from '$server/usecases/sales/remind';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import {
	buy,
	FENCE,
	holding,
	makeShop,
	makeVideo,
	makeWorld,
	monthly,
	order,
	PLAN,
	refundWhole,
	type World
} from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
let planId: string;
let gears: string;
let wish: PlanWish;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	gears = await makeVideo(world.app, '/videos/gears');
	wish = { ...PLAN, name: 'Gears', terms: monthly(500), soldTo: shop.itemId };
	planId = await createPlan(world.app, null, wish);
	await agreeing((agreedTo) =>
		saveFence(world.app, null, {
			...{ fenceId: null, revision: 1, agreedTo },
			wish: { ...FENCE, selector: { kind: 'items', itemIds: [gears] }, crossings: [holding(planId)] }
		})
	);
});
afterEach(async () => world.end());

const look = async (memberId: string | null) =>
	lookOf(world.app, memberId === null ? null : await world.app.rights.standing(memberId), null, null);
const added = async (email: string) => {
	const member = await addMember(world.app, null, { email, name: 'Rook', planId: null, until: null });
	if (!member.ok) throw new Error(member.code);
	return member.memberId;
};
const edited = (over: Partial<PlanWish>) =>
	agreeing((agreedTo) => editPlan(world.app, null, planId, { ...wish, ...over }, agreedTo));

/** What of it is found by somebody, wherever plans are offered. */
async function finds(memberId: string | null) {
	const seen = await look(memberId);
	const page = await planPage(world.app, seen, 'gears', {});
	return {
		atTheCheckout: (await planToBuy(world.app, seen, 'gears')) !== null,
		listed: (await plansOffered(world.app, seen, {})).some(({ plan }) => plan.id === planId),
		byLink: (await plansNamed(world.app, seen, ['gears'])).length > 0,
		atTheNotice: offersAt(seen.policy, seen.viewer, gears, seen.now).some((one) => one.planId === planId),
		onItsPage: page?.isOnSale === true && !page.isForOthers
	};
}
const EVERYWHERE = { atTheCheckout: true, listed: true, byLink: true, atTheNotice: true, onItsPage: true };
const NOWHERE = { atTheCheckout: false, listed: false, byLink: false, atTheNotice: false, onItsPage: false };

describe('a plan for those who may open something', () => {
	it('is offered to them alone, everywhere, as long as they may', async () => {
		const { memberId } = await buy(world, shop.slug);
		expect(await finds(memberId)).toEqual(EVERYWHERE);
		expect(await finds(await added('rook@mail.example'))).toEqual(NOWHERE);
		expect(await finds(null)).toEqual(NOWHERE);
	});

	it('is sold to them alone, whatever page the order comes from', async () => {
		const { memberId } = await buy(world, shop.slug);
		const refused = { ok: false, code: 'not-on-sale' };
		expect(await order(world, 'gears', { email: 'rook@mail.example' })).toEqual(refused);
		// Whoever types a holder's address has shown nothing.
		expect(await order(world, 'gears')).toEqual(refused);
		expect(await order(world, 'gears', { memberId: await added('rook@mail.example') })).toEqual(refused);
		expect(await order(world, 'gears', { memberId })).toMatchObject({ ok: true });
	});

	it('is kept by whoever has it, and is not sold again once what it was for is shut', async () => {
		const { memberId } = await buy(world, shop.slug);
		const begun = await order(world, 'gears', { memberId });
		if (!begun.ok) throw new Error(begun.code);
		world.processor.becomes(begun.payUrl.split('/').at(-1) ?? '', 'captured');
		await settleReturn(world.app, begun.orderId, 'device', memberId);
		const first = (await paymentsOf(world.app.db, memberId)).find(({ amountMinor }) => amountMinor === 1200);
		await refundWhole(world.app, null, first?.id ?? '');
		const seen = await look(memberId);
		const opens = async (id: string) => (await world.app.rights.decideFor(seen.viewer, id)).verdict;
		expect([await opens(shop.itemId), await opens(gears)]).toEqual(['shut', 'open']);
		expect((await planPage(world.app, seen, 'gears', {}))?.isForOthers).toBe(false);
		expect(await finds(memberId)).toMatchObject({ listed: false, byLink: false });
	});

	it('reminds nobody of what they began to buy and could not buy any more', async () => {
		const { memberId } = await buy(world, shop.slug);
		const proved = { provedAt: world.app.clock.business() };
		await world.app.db.update(accounts).set(proved).where(eq(accounts.id, memberId));
		const begun = await order(world, 'gears', { memberId });
		if (!begun.ok) throw new Error(begun.code);
		expect(await isStillReminded(world.app, begun.orderId)).toBe(true);
		const [first] = await paymentsOf(world.app.db, memberId);
		const paid = (await paymentsOf(world.app.db, memberId)).find(({ state }) => state === 'captured');
		await refundWhole(world.app, null, (paid ?? first)?.id ?? '');
		expect(await isStillReminded(world.app, begun.orderId)).toBe(false);
	});

	it('takes no payment on a page that was opened before it was for some alone', async () => {
		await edited({ soldTo: null });
		const begun = await order(world, 'gears', { email: 'rook@mail.example' });
		if (!begun.ok) throw new Error(begun.code);
		await edited({});
		expect((await orderById(world.app.db, begun.orderId))?.state).not.toBe('open');
	});

	it('is nobody’s where what it was for is gone', async () => {
		const { memberId } = await buy(world, shop.slug);
		await edited({ soldTo: '01900000-0000-7000-8000-000000000000' });
		expect(await finds(memberId)).toEqual(NOWHERE);
	});

	it('stands on no ladder that one moves to it by', async () => {
		await agreeing((agreedTo) =>
			editPlan(
				world.app,
				null,
				shop.planId,
				{ ...PLAN, terms: monthly(1200), ladder: 'Bench', rung: 1 },
				agreedTo
			)
		);
		await edited({ ladder: 'Bench', rung: 2 });
		const { memberId } = await buy(world, shop.slug);
		const [held] = await agreementsOf(world.app.db, memberId);
		const { zone, tax } = await world.app.site();
		const when = { now: world.app.clock.business(), zone, tax };
		const moves = await movesOf(world.app.db, memberId, held?.id ?? '', when);
		expect(moves?.to.map(({ plan }) => plan.id)).toEqual([shop.planId]);
	});

	it('says at the Desk whether what was chosen keeps anybody from buying', async () => {
		const shown = async () => (await planAtDesk(world.app, planId))?.soldTo;
		expect(await shown()).toEqual({ id: shop.itemId, title: 'Wheel', isOpenToAll: false });
		const open = { ...holding(''), audience: { kind: 'anyone' as const } };
		await agreeing((agreedTo) =>
			saveFence(world.app, null, {
				...{ fenceId: shop.fenceId, revision: 1, agreedTo },
				wish: { ...FENCE, selector: { kind: 'items', itemIds: [shop.itemId] }, crossings: [open] }
			})
		);
		expect(await shown()).toMatchObject({ isOpenToAll: true });
	});

	it('is another plan to its editor than one for everybody', async () => {
		const before = await planById(world.app.db, planId);
		await edited({ soldTo: null });
		const after = await planById(world.app.db, planId);
		expect([before?.soldTo, after?.soldTo]).toEqual([shop.itemId, null]);
		expect(before && after && planRevision(before) !== planRevision(after)).toBe(true);
	});
});
