/** What Today shows, and to whom. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ALL_PERMISSIONS, type Permission } from '$core/staff/permissions';
import { grantsOf } from '$server/db/queries/members';
import { paymentsOf } from '$server/db/queries/sales';
import { today } from '$server/reads/desk/today';
import { addMember } from '$server/usecases/accounts/run-members';
import { saveFence } from '$server/usecases/fences/save-fence';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import {
	buy,
	endGrant,
	FENCE,
	giveGrant,
	makeShop,
	makeWorld,
	passDays,
	refundWhole,
	type World
} from './world';

const DAY = 86_400_000;

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
const seen = async (...permissions: Permission[]) => {
	await world.app.rights.refresh();
	return today(world.app, permissions.length === 0 ? ALL_PERMISSIONS : new Set(permissions));
};
async function member(name: string): Promise<string> {
	const added = await addMember(world.app, null, {
		email: `${name}@mail.example`,
		name,
		planId: null,
		until: null
	});
	if (!added.ok) throw new Error(added.code);
	return added.memberId;
}
async function give(memberId: string, days: number | null): Promise<string> {
	const from = world.app.clock.business();
	const until = days === null ? null : from + days * DAY;
	const given = await giveGrant(world.app, null, { memberId, planId: shop.planId, from, until, why: '' });
	if (!given.ok) throw new Error('not given');
	return (await grantsOf(world.app.db, memberId))[0]?.id ?? '';
}

beforeAll(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterAll(async () => world.end());

describe('Today', () => {
	it('tells who came, whose plan ran out, and nothing twice of what somebody ended', async () => {
		const [runs, ended, stays] = [await member('Runs'), await member('Ended'), await member('Stays')];
		await give(runs, 3);
		const grantId = await give(ended, 3);
		await give(stays, null);
		await passDays(world, 1);
		await endGrant(world.app, null, grantId, 'refund');
		await passDays(world, 5);
		const { events, held } = await seen();
		const told = (name: string) => events.filter((one) => one.name === name).map(({ action }) => action);
		expect(told('Runs')).toEqual(['ran-out', 'granted']);
		expect(told('Ended')).toEqual(['granted']);
		expect(told('Stays')).toEqual(['granted']);
		expect(events.find(({ action }) => action === 'ran-out')?.plan).toBe('Workshop');
		expect(events.map(({ at }) => at)).toEqual(events.map(({ at }) => at).toSorted((a, b) => b - a));
		expect(held).toHaveLength(53);
		expect([held?.at(0)?.count, held?.at(-1)?.count]).toEqual([0, 1]);
	});

	it('names fences that look wrong, and none that is off', async () => {
		const put = (name: string, isOn: boolean) =>
			agreeing((agreedTo) =>
				saveFence(world.app, null, {
					fenceId: null,
					revision: 1,
					agreedTo,
					wish: { ...FENCE, name, isOn, selector: { kind: 'path', path: `/${name}` } }
				})
			);
		await put('empty', true);
		await put('off', false);
		const { findings } = await seen();
		expect(findings.map(({ code }) => code)).toEqual(['catches-nothing']);
	});

	it('shows each role what it may do something about, and nothing of anything else', async () => {
		expect(await seen('releases')).toMatchObject({
			events: [],
			held: null,
			findings: [],
			steps: null,
			disputes: []
		});
		const support = await seen('members');
		expect([support.events.length > 0, support.held !== null, support.findings]).toEqual([true, true, []]);
		expect((await seen('fences')).findings).toHaveLength(1);
	});

	it('has the money of this month beside the last, and of nobody who may not see sales', async () => {
		const { memberId } = await buy(world, shop.slug);
		const [paid] = await paymentsOf(world.app.db, memberId);
		const money = async () => (await today(world.app, ALL_PERMISSIONS)).money;
		expect(await money()).toMatchObject([{ currency: 'EUR', thisMinor: 1200, lastMinor: 0 }]);
		await refundWhole(world.app, null, paid?.id ?? '');
		expect(await money()).toMatchObject([{ thisMinor: 0 }]);
		await buy(world, shop.slug, 'robin@mail.example');
		// Whatever the day: a month on, this month is the last.
		await passDays(world, 31);
		expect((await money())[0]?.lastMinor).toBeGreaterThanOrEqual(1200);
		expect((await today(world.app, new Set(['members']))).money).toEqual([]);
	});
});
