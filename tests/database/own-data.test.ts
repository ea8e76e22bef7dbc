/** What a member takes along: all of theirs, and nothing of anybody else. */

import { afterEach, beforeEach, expect, it } from 'vitest';
import { positions } from '$server/db/schema/library';
import { uses } from '$server/db/schema/access';

import { ownData } from '$server/reads/front/own-data';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { memberLabelOf } from '$server/usecases/accounts/member-labels';
import { makeBatch } from '$server/usecases/codes/codes';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { runMany } from '$server/usecases/accounts/run-many';
import { buy, makeShop, makeWorld, refundWhole, redeem, type World } from './world';
import { paymentsOf } from '$server/db/queries/sales';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterEach(() => world.end());

it('has what somebody bought, paid, was handed, opened, typed and where they were', async () => {
	const { memberId } = await buy(world, shop.slug);
	await buy(world, shop.slug, 'jasper@mail.example');
	const now = world.app.clock.business();
	const at = { memberId, itemId: shop.itemId };
	await world.app.db.insert(positions).values({ ...at, seconds: 7, changedAt: now });
	await world.app.db.insert(uses).values({ ...at, at: now, goesOnUntil: now });
	const does = { kind: 'opens' as const };
	const when = { startsAt: null, endsAt: null, usesPerCode: null };
	await makeBatch(world.app, null, { name: 'Fair', code: 'FAIR', count: 1, does, ...when });
	await redeem(world.app, { memberId }, 'fair');
	const [paid] = await paymentsOf(world.app.db, memberId);
	await refundWhole(world.app, null, paid?.id ?? '');
	const data = await ownData(world.app, memberId);
	const iso = new Date(now).toISOString();
	expect(data).toMatchObject({
		...{ format: 'stile-own-data', version: 1 },
		account: { email: 'wren@mail.example', name: 'Wren', hasPassword: false },
		access: [{ plan: 'Workshop', source: 'subscription' }],
		agreements: [{ plan: 'Workshop', state: 'ended', terms: { firstMinor: 1200, currency: 'EUR' } }],
		orders: [{ state: 'paid', totalMinor: 1200, lines: [{ text: 'Workshop', totalMinor: 1200 }] }],
		payments: [{ state: 'captured', amountMinor: 1200, refundedMinor: 1200, by: 'card' }],
		documents: [{ kind: 'receipt' }, { kind: 'credit-note' }],
		opened: [{ title: 'Wheel', address: '/videos/wheel', at: iso }],
		placesInFilms: [{ title: 'Wheel', seconds: 7, at: iso }],
		cards: [{ ending: '4242', expires: '2099-12' }],
		codes: [{ code: 'FAIR' }]
	});
	expect(data?.orders[0]?.number).toBe(data?.payments[0]?.order);
	const text = JSON.stringify(data);
	expect(text).not.toContain('jasper');
	// Nothing by which somebody could get in, and none of what only staff say.
	expect(text).not.toMatch(/hash|token|argon/i);
});

it('leaves out the labels of staff', async () => {
	const { memberId } = await buy(world, shop.slug);
	const planId = await memberLabelOf(world.app, null, 'Difficult');
	await agreeing((yes) => runMany(world.app, null, [memberId], { kind: 'give', planId, until: null }, yes));
	expect((await ownData(world.app, memberId))?.access.map(({ plan }) => plan)).toEqual(['Workshop']);
});

it('is nothing of whoever is gone', async () => {
	const { memberId } = await buy(world, shop.slug);
	await deleteMember(world.app, null, memberId);
	const data = await ownData(world.app, memberId);
	expect(data?.account.email ?? null).toBeNull();
	expect(JSON.stringify(data)).not.toContain('wren@mail.example');
	expect(await ownData(world.app, shop.planId)).toBeNull();
});
