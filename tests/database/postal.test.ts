/** What is sent by post: where to is asked for, kept at the order, told, and forgotten with whoever it was sent to. */
import { eq } from 'drizzle-orm';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { Postal } from '$core/text/postal';
import { callsAfter } from '$server/db/queries/listeners';
import { audit } from '$server/db/schema/running';
import { orders, plans } from '$server/db/schema/sales';
import { callTable } from '$server/reads/desk/listeners';
import { orderPage } from '$server/reads/desk/sales';
import { ownData } from '$server/reads/front/own-data';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { revisionOf } from '$server/revision';
import { changePostal } from '$server/usecases/sales/change-postal';
import { makeListener } from '$server/usecases/running/listeners';
import { declinedOrder, lastPostal, settleReturn, thank } from '$server/usecases/sales/look-at-order';
import { makeShop, makeWorld, order, type World } from './world';

const MILLRACE: Postal = {
	...{ name: 'Wren Alder', street: 'Millrace 4', more: '', postcode: '1070' },
	...{ city: 'Vienna', region: '', country: 'AT' }
};
const QUAY: Postal = { ...MILLRACE, street: 'Quay 1' };

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	await world.app.db.update(plans).set({ asksPostal: true });
});
afterEach(() => world.end());

async function bought(over: Parameters<typeof order>[2]) {
	const begun = await order(world, shop.slug, over);
	if (!begun.ok) throw new Error(begun.code);
	world.processor.becomes(begun.payUrl.split('/').at(-1) ?? '', 'captured');
	await settleReturn(world.app, begun.orderId, 'device', over?.memberId ?? null);
	const [row] = await world.app.db.select().from(orders).where(eq(orders.id, begun.orderId));
	return { orderId: begun.orderId, memberId: row?.memberId ?? '', postal: row?.postal };
}

it.each([
	['nothing', undefined],
	['no street', { ...MILLRACE, street: '' }],
	['no country there is', { ...MILLRACE, country: 'XX' }],
	['two lines in one', { ...MILLRACE, name: 'Wren\nAlder' }]
])('is not begun with %s', async (_name, postal) => {
	expect(await order(world, shop.slug, postal ? { postal } : {})).toEqual({ ok: false, code: 'no-postal' });
	expect(await world.app.db.select().from(orders)).toEqual([]);
});

it('is kept at the order, and said to the publisher, to the program that is told, and to the buyer', async () => {
	const listens = { name: 'Packer', url: '', events: ['bought' as const], planIds: null };
	const listener = await makeListener(world.app, null, listens);
	if (listener.kind !== 'made') throw new Error(listener.code);
	const { orderId, memberId } = await bought({ postal: MILLRACE });
	expect((await orderPage(world.app, orderId))?.order.postal).toEqual(MILLRACE);
	const [told] = await callsAfter(world.app.db, listener.id, null, 5);
	expect(told?.content.order).toMatchObject({ postal: MILLRACE });
	expect((await callTable(world.app, listener.id)).map(({ about }) => about.sentTo)).toEqual([
		'Wren Alder, Millrace 4, 1070 Vienna, AT'
	]);
	expect(await thank(world.app, orderId, 'device', memberId)).toMatchObject({ postal: MILLRACE });
	expect((await ownData(world.app, memberId))?.orders).toMatchObject([{ sentTo: MILLRACE }]);
});

it('is what was typed last, where the same order is gone on with', async () => {
	const first = await order(world, shop.slug, { postal: MILLRACE });
	const { orderId, postal } = await bought({ postal: QUAY });
	expect(first).toMatchObject({ orderId });
	expect(postal).toEqual(QUAY);
});

it('is kept with what was typed where a card was declined', async () => {
	const begun = await order(world, shop.slug, { postal: MILLRACE });
	if (!begun.ok) throw new Error(begun.code);
	world.processor.becomes(begun.payUrl.split('/').at(-1) ?? '', 'declined');
	await settleReturn(world.app, begun.orderId, 'device', null);
	expect(await declinedOrder(world.app, shop.planId, 'device')).toMatchObject({ postal: MILLRACE });
});

it('is not kept where the plan asks for none', async () => {
	await world.app.db.update(plans).set({ asksPostal: false });
	expect((await bought({ postal: MILLRACE })).postal).toBeNull();
});

it('is offered again to whoever typed it signed in, and not what somebody typed with their address', async () => {
	const { memberId } = await bought({ postal: MILLRACE });
	expect(await lastPostal(world.app, memberId)).toBeNull();
	await world.app.db.update(orders).set({ email: null, postal: QUAY });
	expect(await lastPostal(world.app, memberId)).toEqual(QUAY);
});

it('is mended at the Desk by whoever saw it as it is, and nobody else reads it in the log once they are gone', async () => {
	const { orderId, memberId } = await bought({ postal: MILLRACE });
	const mend = (postal: Postal, of = MILLRACE) =>
		changePostal(world.app, null, orderId, { postal, revision: revisionOf(of) });
	expect(await mend({ ...QUAY, city: '' })).toEqual({ kind: 'not-whole' });
	expect(await mend(QUAY)).toEqual({ kind: 'saved' });
	expect(await mend(MILLRACE)).toEqual({ kind: 'changed' });
	expect((await orderPage(world.app, orderId))?.order.postal).toEqual(QUAY);
	const logged = async () =>
		JSON.stringify(await world.app.db.select().from(audit).where(eq(audit.subjectId, orderId)));
	expect(await logged()).toContain('Quay 1');
	await deleteMember(world.app, null, memberId);
	expect(await logged()).not.toContain('Quay 1');
	expect(await mend(MILLRACE, QUAY)).toEqual({ kind: 'unknown' });
	const settings = { id: memberId, permissions: new Set(['settings', 'sales'] as const) };
	await expect(
		changePostal(world.app, settings, orderId, { postal: QUAY, revision: null })
	).rejects.toThrow();
});

it('is forgotten with the account', async () => {
	const { orderId, memberId } = await bought({ postal: MILLRACE });
	await deleteMember(world.app, null, memberId);
	expect((await orderPage(world.app, orderId))?.order.postal).toBeNull();
});
