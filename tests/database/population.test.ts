/** Everybody's standing in memory: what it says is what the database says, whoever changes what meanwhile. */
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { population } from '$server/db/queries/members';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { addMember } from '$server/usecases/accounts/run-members';
import { grantsOf } from '$server/db/queries/members';
import { cancelAgreement } from '$server/usecases/sales/steer-agreement';
import { agreementsOf } from '$server/db/queries/agreements';
import { compose, type Stile } from '$server/compose';
import { Population } from '$server/rights/population';
import { shownLibrary, shownPlans } from '$server/rights/shown';
import { warm } from '$server/rights/warm';
import type { Rights } from '$server/rights/rights';
import { buy, endGrant, giveGrant, makeShop, makeWorld, type World } from './world';

let world: World;
let other: Stile;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeAll(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	other = await compose(world.app.settings);
});
afterAll(async () => {
	await other.stop();
	await world.end();
});

/** As both nodes know it, and as it is. */
async function asKnown() {
	await other.app.rights.refresh();
	const of = async ({ app }: Stile) => [...(await app.population.all()).values()];
	const inTruth = await population(world.app.db);
	return { here: await of(world.stile), there: await of(other), inTruth };
}

async function expectTruth() {
	const { here, there, inTruth } = await asKnown();
	expect(here).toEqual(inTruth);
	expect(there).toEqual(inTruth);
}

describe('the population', () => {
	it('follows who comes, buys, is given something, cancels and goes, on every node', async () => {
		await expectTruth();
		const { memberId } = await buy(world, shop.slug, 'heron@mail.example');
		await expectTruth();
		const added = await addMember(world.app, null, {
			email: 'plover@mail.example',
			name: 'Plover',
			planId: shop.planId,
			until: null
		});
		if (!added.ok) throw new Error(added.code);
		await expectTruth();
		const [grant] = await grantsOf(world.app.db, added.memberId);
		await endGrant(world.app, null, grant?.id ?? '', 'by hand');
		await giveGrant(world.app, null, {
			memberId,
			planId: shop.planId,
			from: world.app.clock.business(),
			until: null,
			why: 'by hand'
		});
		await expectTruth();
		const [agreement] = await agreementsOf(world.app.db, memberId);
		await cancelAgreement(world.app, memberId, agreement?.id ?? '', {
			reason: 'too-expensive',
			words: ''
		});
		await expectTruth();
		await deleteMember(world.app, null, added.memberId);
		await expectTruth();
		expect((await asKnown()).here.map(({ id }) => id)).not.toContain(added.memberId);
	});

	it('reads only who changed, and groups again only then', async () => {
		const before = await world.app.population.groups();
		expect(await world.app.population.groups()).toBe(before);
		const all = vi.spyOn(world.app.db, 'select');
		await world.app.population.all();
		expect(all).not.toHaveBeenCalled();
		all.mockRestore();
		await buy(world, shop.slug, 'dunlin@mail.example');
		const after = await world.app.population.groups();
		expect(after).not.toBe(before);
		const count = (groups: typeof after) => groups.reduce((sum, { memberIds }) => sum + memberIds.length, 0);
		expect(count(after)).toBe(count(before) + 1);
	});

	it('leaves nothing to be read for the first list after a start', async () => {
		const started = await compose(world.app.settings);
		try {
			await warm(started.app);
			const asked = vi.spyOn(started.app.db, 'select');
			const policy = await started.app.rights.policy();
			const walked = vi.spyOn(policy, 'caughtBy');
			for (const one of policy.resources.values()) policy.passage(one);
			expect((await shownLibrary(started.app)).length).toBeGreaterThan(0);
			expect((await shownPlans(started.app)).length).toBeGreaterThan(0);
			expect([asked.mock.calls.length, walked.mock.calls.length]).toEqual([0, 0]);
			asked.mockRestore();
		} finally {
			await started.stop();
		}
	});

	it('is read once, however many ask at the same time', async () => {
		await buy(world, shop.slug, 'curlew@mail.example');
		const found = await Promise.all(Array.from({ length: 14 }, () => world.app.population.all()));
		expect(new Set(found).size).toBe(1);
		await expectTruth();
	});

	it('does not keep what was being read while everything became unknown', async () => {
		let tell: Parameters<Rights['tell']>[0] = () => {};
		const rights = { tell: (listener: typeof tell) => (tell = listener), policy: async () => null };
		const own = new Population(world.app.db, rights as unknown as Rights);
		const reading = own.all();
		await Promise.resolve();
		tell('all');
		const before = await reading;
		// Nobody tells of her: she came while this node was out of touch.
		const { memberId } = await buy(world, shop.slug, 'whimbrel@mail.example');
		expect(before.has(memberId)).toBe(false);
		expect((await own.all()).has(memberId)).toBe(true);
	});
});
