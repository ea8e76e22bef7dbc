/** Money that comes in by transfer in parts: nothing opens before all of it is there, and what came in is never lost. */
import { asc, eq } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { grantsOf } from '$server/db/queries/members';
import { orderById, paymentsOfOrder, waitingOrders } from '$server/db/queries/sales';
import { waitingPayments } from '$server/db/queries/waiting';
import { accounts } from '$server/db/schema/people';
import { documents, orders, refunds } from '$server/db/schema/sales';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { createPlan } from '$server/usecases/plans/save-plan';
import { saveSite, sitePart } from '$server/usecases/running/save-site';
import { answerPayment, type Answer } from '$server/usecases/sales/answer-payment';
import { expireOrders, OFFLINE_WAITS_MS } from '$server/usecases/sales/end-pay-page';
import { settleReturn } from '$server/usecases/sales/look-at-order';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import { buy, makeShop, makeWorld, order, passDays, PLAN, refundWhole, type World } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
let memberId: string;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	const money = sitePart('money', await world.app.site());
	const wish = { ...money, payBy: ['card', 'offline'] as const, offline: { name: 'Transfer', how: 'To us' } };
	await agreeing((agreedTo) => saveSite(world.app, null, 'money', wish, { agreedTo }));
	await createPlan(world.app, null, {
		...{ ...PLAN, name: 'Book', access: { kind: 'for-good' as const } },
		terms: { currency: 'EUR', firstMinor: 3000, feeMinor: 500, then: { kind: 'nothing' } }
	});
	({ memberId } = await buy(world, shop.slug, 'teal@mail.example'));
	await world.app.db.update(accounts).set({ provedAt: world.app.clock.business() });
	world.mails.length = 0;
});
afterEach(async () => {
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

async function begin(): Promise<string> {
	const begun = await order(world, 'book', { memberId, email: '', payBy: 'offline' });
	if (!begun.ok) throw new Error(begun.code);
	return begun.orderId;
}
/** The one that is waited for. */
const waiting = async (orderId: string) => {
	const found = (await paymentsOfOrder(world.app.db, orderId)).find(({ state }) => state === 'pending');
	if (!found) throw new Error('nothing is waited for');
	return found;
};
const say = async (orderId: string, over: Partial<Answer> = {}) =>
	answerPayment(world.app, null, {
		...{ paymentId: (await waiting(orderId)).id, state: 'captured', why: '' },
		...over
	});
const holds = async () => (await grantsOf(world.app.db, memberId)).length - 1;
const papers = async (orderId: string) => {
	const ids = (await paymentsOfOrder(world.app.db, orderId)).map(({ id }) => id);
	const all = await world.app.db.select().from(documents).orderBy(asc(documents.number));
	return all.filter(({ paymentId }) => ids.includes(paymentId));
};
const back = async () =>
	(await world.app.db.select().from(refunds)).map(({ amountMinor }) => amountMinor).sort();

describe('an order that is paid in parts', () => {
	it('waits for the rest, and opens when it is there', async () => {
		const orderId = await begin();
		expect(await say(orderId, { amountMinor: 2000 })).toEqual({ ok: true });
		expect(await orderById(world.app.db, orderId)).toMatchObject({ state: 'part-paid', paidAt: null });
		expect(await holds()).toBe(0);
		expect(await waiting(orderId)).toMatchObject({ amountMinor: 1500 });
		expect(await waitingPayments(world.app.db, 9)).toMatchObject([{ amountMinor: 1500, line: 'Book' }]);
		expect(await waitingOrders(world.app.db, memberId)).toMatchObject([{ amountMinor: 1500 }]);
		expect(await settleReturn(world.app, orderId, 'device', memberId)).toMatchObject({
			kind: 'waits',
			waiting: { amountMinor: 1500 }
		});
		expect(await say(orderId, { amountMinor: 1100 })).toEqual({ ok: true });
		expect(await say(orderId)).toEqual({ ok: true });
		expect(await orderById(world.app.db, orderId)).toMatchObject({ state: 'paid' });
		expect(await holds()).toBe(1);
		const handed = await papers(orderId);
		expect(handed.map(({ kind, amountMinor }) => [kind, amountMinor])).toEqual([
			['receipt', 2000],
			['receipt', 1100],
			['receipt', 400]
		]);
		// The fee once at joining is paid last.
		expect(
			handed.map(({ content }) => content.lines.map(({ kind, amountMinor }) => [kind, amountMinor]))
		).toEqual([
			[['plan', 2000]],
			[
				['plan', 1000],
				['fee', 100]
			],
			[['fee', 400]]
		]);
	});

	it('tells its buyer how much is left', async () => {
		const orderId = await begin();
		const send = async () => {
			await world.stile.runner.runDue('mail');
			await world.stile.runner.runDue('sign-in');
		};
		await send();
		await say(orderId, { amountMinor: 2000 });
		await send();
		const told = world.mails.filter(({ text }) => text.includes('15.00 EUR'));
		expect(told.map(({ to }) => to)).toEqual(['teal@mail.example']);
	});

	it('that is begun again goes on with what is left', async () => {
		const orderId = await begin();
		await say(orderId, { amountMinor: 2000 });
		expect(await begin()).toBe(orderId);
		expect(await waiting(orderId)).toMatchObject({ amountMinor: 1500 });
	});

	it('is answered once, by however many at once', async () => {
		const orderId = await begin();
		const { id: paymentId } = await waiting(orderId);
		const answer = { paymentId, state: 'captured' as const, amountMinor: 2000, why: '' };
		const all = await Promise.all([1, 2, 3].map(() => answerPayment(world.app, null, answer)));
		expect(all.filter(({ ok }) => ok)).toHaveLength(1);
		const came = await paymentsOfOrder(world.app.db, orderId);
		expect(came.map(({ amountMinor }) => amountMinor).sort()).toEqual([1500, 2000]);
	});

	it('is refunded by refusing it: of what came in nothing goes back while the rest is waited for', async () => {
		const orderId = await begin();
		await say(orderId, { amountMinor: 2000 });
		const came = (await paymentsOfOrder(world.app.db, orderId)).find(({ state }) => state === 'captured');
		expect(await refundWhole(world.app, null, came?.id ?? '')).toEqual({ ok: false, code: 'part-paid' });
		await say(orderId);
		expect(await refundWhole(world.app, null, came?.id ?? '')).toMatchObject({ ok: true });
	});

	it('gives back what came in where the rest is refused', async () => {
		const orderId = await begin();
		await say(orderId, { amountMinor: 2000 });
		expect(await say(orderId, { state: 'declined', why: 'It never came.' })).toEqual({ ok: true });
		await world.stile.runner.runDue('billing');
		expect(await orderById(world.app.db, orderId)).toMatchObject({ state: 'refused' });
		expect(await back()).toEqual([2000]);
		expect(await holds()).toBe(0);
	});

	it('gives back what came in where the rest does not come within 30 days', async () => {
		const orderId = await begin();
		await say(orderId, { amountMinor: 2000 });
		await world.app.db
			.update(orders)
			.set({ createdAt: world.app.clock.business() - OFFLINE_WAITS_MS - 1 })
			.where(eq(orders.id, orderId));
		await expireOrders(world.app);
		await world.stile.runner.runDue('billing');
		expect(await orderById(world.app.db, orderId)).toMatchObject({ state: 'expired' });
		expect(await back()).toEqual([2000]);
	});

	it('gives back all of its parts where it is held by then', async () => {
		const orderId = await begin();
		await say(orderId, { amountMinor: 2000 });
		const other = await order(world, 'book', {
			email: 'teal@mail.example',
			deviceToken: 'other',
			payBy: 'card'
		});
		if (!other.ok) throw new Error(other.code);
		world.processor.becomes(other.payUrl.split('/').at(-1) ?? '', 'captured');
		await settleReturn(world.app, other.orderId, 'other', null);
		expect(await holds()).toBe(1);
		await say(orderId);
		await world.stile.runner.runDue('billing');
		expect(await orderById(world.app.db, orderId)).toMatchObject({ state: 'given-back' });
		expect(await back()).toEqual([1500, 2000]);
	});
});

describe('no part is taken', () => {
	it.each([
		[3501, 'too-much'],
		[0, 'too-much']
	] as const)('of %i: %s', async (amountMinor, code) => {
		const orderId = await begin();
		expect(await say(orderId, { amountMinor })).toEqual({ ok: false, code });
		expect(await orderById(world.app.db, orderId)).toMatchObject({ state: 'waiting' });
	});

	it('of what is due of an agreement', async () => {
		const begun = await order(world, shop.slug, { email: 'wren@mail.example', payBy: 'offline' });
		if (!begun.ok) throw new Error(begun.code);
		await world.app.db
			.update(orders)
			.set({ stoodByAt: world.app.clock.business() })
			.where(eq(orders.id, begun.orderId));
		await say(begun.orderId);
		await passDays(world, 32);
		expect(await say(begun.orderId, { amountMinor: 100 })).toEqual({ ok: false, code: 'whole-only' });
	});
});
