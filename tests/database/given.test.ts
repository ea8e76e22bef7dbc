/** What stands in the account of plans that nobody bought there. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { lookOf } from '$server/rights/look';
import { accountView } from '$server/reads/front/account-view';
import { memberLabelOf } from '$server/usecases/accounts/member-labels';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { runMany } from '$server/usecases/accounts/run-many';
import { grantsOf } from '$server/db/queries/members';
import { makeBatch } from '$server/usecases/codes/codes';
import { createPlan } from '$server/usecases/plans/save-plan';
import { buy, endGrant, giveGrant, makeShop, makeWorld, passDays, PLAN, redeem, type World } from './world';

const DAY = 86_400_000;
let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
let evening: string;

beforeAll(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	evening = await createPlan(world.app, null, { ...PLAN, name: 'Evening' });
});
afterAll(() => world.end());

const account = async (memberId: string) => {
	const standing = await world.app.rights.standing(memberId);
	return accountView(world.app, await lookOf(world.app, standing, null, '192.0.2.1'), memberId);
};
const give = (memberId: string, planId: string, over: { from?: number; until?: number } = {}) =>
	giveGrant(world.app, null, {
		memberId,
		planId,
		from: over.from ?? null,
		until: over.until ?? null,
		why: ''
	});

describe('a plan that was given', () => {
	it('stands in the account with its end and what it opens, beside what was bought', async () => {
		const { memberId } = await buy(world, 'evening', 'wren@mail.example');
		const until = world.app.clock.business() + 30 * DAY;
		await give(memberId, shop.planId, { until });
		const { plans, given } = await account(memberId);
		expect(plans.map(({ name }) => name)).toEqual(['Evening']);
		expect(given).toMatchObject([{ name: 'Workshop', source: 'hand', until, isOpen: true, isOver: false }]);
		expect(given[0]?.items.map(({ id }) => id)).toEqual([shop.itemId]);
	});

	it('by a code says so, and stands once where it was given twice: as it lasts longest', async () => {
		const { memberId } = await buy(world, 'evening', 'jasper@mail.example');
		await makeBatch(world.app, null, {
			...{ name: 'Fair', code: 'CLOCKFAIR', count: 1, startsAt: null, endsAt: null, usesPerCode: null },
			does: { kind: 'gives', planId: shop.planId, days: 7 }
		});
		await redeem(world.app, { memberId }, 'CLOCKFAIR');
		expect((await account(memberId)).given).toMatchObject([{ source: 'code', isOpen: true }]);
		await give(memberId, shop.planId);
		expect((await account(memberId)).given).toMatchObject([{ source: 'hand', until: null }]);
	});

	it('that begins later says when, and one that is over says so and opens nothing', async () => {
		const { memberId } = await buy(world, 'workshop', 'bram@mail.example');
		const from = world.app.clock.business() + 9 * DAY;
		await give(memberId, evening, { from });
		expect((await account(memberId)).given).toMatchObject([
			{ from, isOpen: false, isOver: false, items: [] }
		]);
		await passDays(world, 10);
		const grant = (await grantsOf(world.app.db, memberId)).find(({ planId }) => planId === evening);
		await endGrant(world.app, null, grant?.id ?? '', '');
		expect((await account(memberId)).given).toMatchObject([{ isOpen: false, isOver: true, items: [] }]);
	});

	it('that runs is told before one that begins later, however long that lasts', async () => {
		const { memberId } = await buy(world, 'evening', 'rowan@mail.example');
		const until = world.app.clock.business() + 5 * DAY;
		await give(memberId, shop.planId, { until });
		await give(memberId, shop.planId, { from: until + DAY });
		expect((await account(memberId)).given).toMatchObject([{ until, isOpen: true }]);
	});

	it('that was taken back before it began was never held', async () => {
		const { memberId } = await buy(world, 'evening', 'hazel@mail.example');
		await give(memberId, shop.planId, { from: world.app.clock.business() + DAY });
		const grant = (await grantsOf(world.app.db, memberId)).find(({ planId }) => planId === shop.planId);
		await endGrant(world.app, null, grant?.id ?? '', '');
		expect((await account(memberId)).given).toEqual([]);
	});

	it('is none where it is a label: only staff see those', async () => {
		const { memberId } = await buy(world, 'workshop', 'sorrel@mail.example');
		const labelId = await memberLabelOf(world.app, null, 'At the fair');
		await agreeing((yes) =>
			runMany(world.app, null, [memberId], { kind: 'give', planId: labelId, until: null }, yes)
		);
		expect((await account(memberId)).given).toEqual([]);
	});
});
