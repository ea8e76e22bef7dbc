/** What is taken off: by codes, and because of what is held. Down to the books, the receipts and what follows. */
import { and, eq } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Discount } from '$core/billing/discount';
import { NO_TAX } from '$core/billing/tax';
import type { Terms } from '$core/billing/terms';
import { agreementsOf } from '$server/db/queries/agreements';
import { HOLDS_MS } from '$server/db/queries/taking';
import { lineOf, linesOfOrder, orderById, paymentById, paymentsOf } from '$server/db/queries/sales';
import { documents, ledgerPostings, orders, payments } from '$server/db/schema/sales';
import { LIMITS } from '$server/people/rate-limit';
import { codesOf, codesPage } from '$server/reads/desk/codes';
import { pricedFor } from '$server/reads/front/priced';
import { planToBuy } from '$server/reads/front/shop';
import { lookOf } from '$server/rights/look';
import { endBatches, makeBatch, type CodesDo } from '$server/usecases/codes/codes';
import { createPlan, editPlan } from '$server/usecases/plans/save-plan';
import { declinedOrder, settleReturn, thank } from '$server/usecases/sales/look-at-order';
import { findCharge } from '$server/usecases/sales/charge';
import { offersToBuyer } from '$server/usecases/sales/take-off';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import {
	buy,
	makeShop,
	makeWorld,
	order,
	passDays,
	PLAN,
	refundWhole,
	testCard,
	redeem,
	type World
} from './world';

const NO_TAX_AT = { rules: NO_TAX, buyer: { country: null, taxId: null } };

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
});
afterEach(async () => {
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

const WREN = 'wren@mail.example';
const part = (percent: number, payments: number | null = 1): Discount => ({
	off: { kind: 'percent', percent },
	payments
});
const takesOff = (discount: Discount, over: object = {}): CodesDo => ({
	...{ kind: 'takes-off', discount, planIds: null, isOncePerBuyer: false },
	...over
});
async function code(text: string, does: CodesDo, uses: number | null = null): Promise<string> {
	const times = { startsAt: null, endsAt: null, usesPerCode: uses };
	const made = await makeBatch(world.app, null, { name: text, code: text, count: 1, does, ...times });
	if (!made.ok) throw new Error(made.code);
	return made.batchId;
}
async function begin(over: Parameters<typeof order>[2] = {}) {
	const begun = await order(world, shop.slug, over);
	if (!begun.ok) throw new Error(begun.code);
	return begun;
}
/** Orders with a code, and pays. */
async function buyWith(text: string, email = WREN) {
	const begun = await begin({ email, deviceToken: email, code: text });
	const ref = begun.payUrl.split('/').at(-1) ?? '';
	if (ref.startsWith('page-')) world.processor.givesCard(ref, testCard('card-1'));
	else world.processor.becomes(ref, 'captured');
	await settleReturn(world.app, begun.orderId, email, null);
	const bought = await orderById(world.app.db, begun.orderId);
	return { ...begun, memberId: bought?.memberId ?? '', state: bought?.state };
}
const paidBy = async (memberId: string) =>
	(await paymentsOf(world.app.db, memberId))
		.filter(({ state }) => state === 'captured')
		.sort((a, b) => a.period - b.period)
		.map(({ amountMinor }) => amountMinor);
const booked = async (account: string) =>
	(await world.app.db.select().from(ledgerPostings))
		.filter((posting) => posting.account === account)
		.map(({ amountMinor }) => amountMinor);

describe('a code at the checkout', () => {
	it('takes its part off as many payments as it says, in the books, on receipts, and no more', async () => {
		await code('SPRING', takesOff(part(25, 2)));
		const { memberId, orderId } = await buyWith('spring');
		expect(await linesOfOrder(world.app.db, orderId)).toMatchObject([
			{ amountMinor: 1200, discountMinor: 300, totalMinor: 900 }
		]);
		await passDays(world, 70);
		expect(await paidBy(memberId)).toEqual([900, 900, 1200]);
		expect(await booked('discounts')).toEqual([300, 300]);
		expect(await booked('sales')).toEqual([-1200, -1200, -1200]);
		const papers = await world.app.db.select().from(documents);
		expect(papers.map(({ amountMinor, content }) => [amountMinor, content.lines[0]?.discountMinor])).toEqual([
			[900, 300],
			[900, 300],
			[1200, undefined]
		]);
	});

	it('is refunded as it was paid', async () => {
		await code('SPRING', takesOff(part(25)));
		const { memberId } = await buyWith('SPRING');
		const [paid] = await paymentsOf(world.app.db, memberId);
		if (!paid) throw new Error('nothing was paid');
		expect(await refundWhole(world.app, null, paid.id)).toMatchObject({ ok: true });
		expect(await booked('processor')).toEqual([900, -900]);
		expect(await booked('refunds')).toEqual([900]);
	});

	it('says of each price what is paid today, next, and from when nothing is taken off any more', async () => {
		await code('SPRING', takesOff(part(25, 2)));
		const plan = await planToBuy(world.app, await lookOf(world.app, null, null, null), shop.slug);
		const offers =
			plan &&
			(await offersToBuyer(world.app, {
				...{ plan, code: 'SPRING', memberId: null },
				...{ deviceToken: 'device', client: '127.0.0.1' }
			}));
		if (!plan || !offers) throw new Error('no offers');
		const start = Date.parse('2026-01-31T10:00Z');
		expect(pricedFor(plan, offers, { today: start, zone: 'UTC' }, NO_TAX_AT)).toMatchObject([
			{
				todayMinor: 900,
				next: { amountMinor: 900, at: Date.parse('2026-02-28T10:00Z') },
				full: { amountMinor: 1200, at: Date.parse('2026-03-31T10:00Z') },
				...{ off: 'by-code', refusal: null }
			}
		]);
	});

	it('is refused with its reason, and orders nothing', async () => {
		await code('OTHER', takesOff(part(10), { planIds: ['00000000-0000-7000-8000-000000000000'] }));
		await code('DOLLARS', takesOff({ off: { kind: 'amount', minor: 100, currency: 'USD' }, payments: 1 }));
		await code('GIVES', { kind: 'gives', planId: shop.planId, days: null });
		const over = await code('OVER', takesOff(part(10)));
		await endBatches(world.app, null, [over], 'now');
		const said = async (text: string) => {
			const begun = await order(world, shop.slug, { code: text });
			return begun.ok ? null : begun.code;
		};
		expect(await said('NEVER')).toBe('unknown-code');
		expect(await said('OTHER')).toBe('other-plan');
		expect(await said('DOLLARS')).toBe('other-currency');
		expect(await said('GIVES')).toBe('gives');
		expect(await said('OVER')).toBe('over');
		expect(await world.app.db.select().from(orders)).toEqual([]);
	});

	it('is not guessed: after so many that there are none, the right one says no more than they did', async () => {
		await code('SPRING', takesOff(part(25)));
		const client = '203.0.113.7';
		const { count } = LIMITS.codeByClient;
		for (let n = 0; n < count; n++)
			expect(await order(world, shop.slug, { code: `GUESS${n}`, client })).toMatchObject({
				code: 'unknown-code'
			});
		for (const text of ['GUESS', 'SPRING'])
			expect(await order(world, shop.slug, { code: text, client })).toEqual({
				...{ ok: false, code: 'too-many-codes' }
			});
		expect(await order(world, shop.slug, { client })).toMatchObject({ ok: true });
	});

	it('is no guess where it is right, however many buy with it from one place', async () => {
		await code('SPRING', takesOff(part(25)));
		const client = '203.0.113.7';
		for (let n = 0; n <= LIMITS.codeByClient.count; n++)
			expect(
				await order(world, shop.slug, {
					...{ code: 'SPRING', client },
					...{ email: `buyer${n}@mail.example`, deviceToken: `device ${n}` }
				})
			).toMatchObject({ ok: true });
	});

	it('is not redeemed, and says so', async () => {
		await code('SPRING', takesOff(part(25)));
		expect(await redeem(world.app, { deviceHash: 'f'.repeat(64) }, 'spring')).toEqual({
			...{ ok: false, code: 'takes-off' }
		});
	});

	it('asks for what was shown, or for nothing', async () => {
		await code('SPRING', takesOff(part(25)));
		expect(await order(world, shop.slug, { code: 'SPRING', seenMinor: 1200 })).toEqual({
			...{ ok: false, code: 'changed' }
		});
		expect(await order(world, shop.slug, { code: 'SPRING', seenMinor: 900 })).toMatchObject({ ok: true });
	});

	it('makes another order than without it, and goes on with the same one where nothing has changed', async () => {
		await code('SPRING', takesOff(part(25)));
		const first = await begin();
		const second = await begin({ code: 'SPRING' });
		expect(second.orderId).not.toBe(first.orderId);
		expect((await orderById(world.app.db, first.orderId))?.state).toBe('replaced');
		expect((await begin({ code: ' spr-ing ' })).orderId).toBe(second.orderId);
	});
});

it('a code and a price are kept with what was typed, where a card was declined', async () => {
	await code('SPRING', takesOff(part(25)));
	const begun = await begin({ code: 'SPRING' });
	world.processor.becomes(begun.payUrl.split('/').at(-1) ?? '', 'declined');
	await settleReturn(world.app, begun.orderId, 'device', null);
	const plan = await planToBuy(world.app, await lookOf(world.app, null, null, null), shop.slug);
	expect(await declinedOrder(world.app, shop.planId, 'device')).toEqual({
		...{ email: WREN, name: 'Wren', code: 'SPRING', priceId: plan?.price.priceId },
		...{ country: '', taxId: '', gift: null, postal: null, seats: 1, besides: [] }
	});
	expect(await declinedOrder(world.app, shop.planId, 'other')).toBeNull();
	expect((await begin({ code: 'SPRING' })).orderId).toBe(begun.orderId);
});

describe('uses', () => {
	const uses = async (batchId: string) => (await codesOf(world.app, batchId)).map(({ uses: of }) => of);

	it('are held while an order is open, for an hour, and counted when it is paid', async () => {
		const batchId = await code('ONCE', takesOff(part(50)), 1);
		const first = await begin({ email: 'one@mail.example', deviceToken: 'one', code: 'ONCE' });
		const second = { email: 'two@mail.example', deviceToken: 'two', code: 'ONCE' };
		expect(await order(world, shop.slug, second)).toEqual({ ok: false, code: 'used-up' });
		expect(await uses(batchId)).toEqual([0]);
		// The one that holds it goes on with it.
		expect(await begin({ email: 'one@mail.example', deviceToken: 'one', code: 'ONCE' })).toEqual(first);
		await world.app.db
			.update(orders)
			.set({ createdAt: world.app.clock.business() - HOLDS_MS - 1 })
			.where(eq(orders.id, first.orderId));
		const begun = await begin(second);
		world.processor.becomes(begun.payUrl.split('/').at(-1) ?? '', 'captured');
		await settleReturn(world.app, begun.orderId, 'two', null);
		expect(await uses(batchId)).toEqual([1]);
		expect(
			(await codesPage(world.app, { search: '', gives: 'off', state: null, order: '', page: 1 })).rows
		).toMatchObject([{ name: 'ONCE', uses: 1, state: 'used-up' }]);
		// Whoever comes back to it after the hour is told, and has it without.
		expect(
			await order(world, shop.slug, { email: 'one@mail.example', deviceToken: 'one', code: 'ONCE' })
		).toEqual({ ok: false, code: 'used-up' });
	});

	it('of whom all buy at the same moment, as many have it as there are uses', async () => {
		await code('THREE', takesOff(part(50)), 3);
		const all = await Promise.all(
			[1, 2, 3, 4, 5].map((n) =>
				order(world, shop.slug, {
					...{ email: `buyer${n}@mail.example`, deviceToken: `device ${n}`, code: 'THREE' }
				})
			)
		);
		expect(all.filter(({ ok }) => ok)).toHaveLength(3);
		expect(all.filter((one) => !one.ok).map((one) => (one.ok ? '' : one.code))).toEqual([
			'used-up',
			'used-up'
		]);
	});

	it('that a stranger holds are said to a member before they order', async () => {
		await createPlan(world.app, null, { ...PLAN, name: 'Atelier' });
		const { memberId } = await buy(world, shop.slug, 'jasper@mail.example');
		await code('ONCE', takesOff(part(50)), 1);
		await begin({ code: 'ONCE' });
		const plan = await planToBuy(world.app, await lookOf(world.app, null, null, null), 'atelier');
		const who = { memberId, deviceToken: 'other', client: '127.0.0.1' };
		const offers = plan && (await offersToBuyer(world.app, { plan, code: 'ONCE', ...who }));
		const at = { today: world.app.clock.business(), zone: 'UTC' };
		expect(offers && pricedFor(plan, offers, at, NO_TAX_AT)).toMatchObject([
			{ off: 'none', refusal: 'used-up', todayMinor: 1200 }
		]);
	});

	it('of members who order at the same moment go to as many as there are', async () => {
		await createPlan(world.app, null, { ...PLAN, name: 'Atelier' });
		const members = [];
		for (const name of ['one', 'two', 'three', 'four'])
			members.push(await buy(world, shop.slug, `${name}@mail.example`));
		await code('TWO', takesOff(part(50)), 2);
		const all = await Promise.all(
			members.map(({ memberId }) => order(world, 'atelier', { memberId, email: '', code: 'TWO' }))
		);
		expect(all.map((one) => (one.ok ? 'ordered' : one.code)).sort()).toEqual([
			...['ordered', 'ordered', 'used-up', 'used-up']
		]);
	});

	it('are free again when the order has ended', async () => {
		await code('ONCE', takesOff(part(50)), 1);
		await begin({ deviceToken: 'one', code: 'ONCE' });
		await begin({ deviceToken: 'one' });
		expect(
			await order(world, shop.slug, { email: 'two@mail.example', deviceToken: 'two', code: 'ONCE' })
		).toMatchObject({ ok: true });
	});

	it('are one for each buyer, of all that were given out together, where they are said to be', async () => {
		await createPlan(world.app, null, { ...PLAN, name: 'Atelier' });
		await code('MINE', takesOff(part(50), { isOncePerBuyer: true }));
		const { memberId } = await buyWith('MINE');
		const again = { memberId, email: '', deviceToken: 'other', code: 'MINE' };
		expect(await order(world, 'atelier', again)).toEqual({ ok: false, code: 'had-it' });
		expect(await order(world, 'atelier', { ...again, code: '' })).toMatchObject({ ok: true });
		const other = { email: 'two@mail.example', deviceToken: 'two', code: 'MINE' };
		expect(await order(world, 'atelier', other)).toMatchObject({ ok: true });
	});

	it('tell a stranger nothing of an address: the same answer, whether it has used the code or not', async () => {
		await createPlan(world.app, null, { ...PLAN, name: 'Atelier' });
		await code('MINE', takesOff(part(50), { isOncePerBuyer: true }));
		await buyWith('MINE');
		for (const email of [WREN, 'nobody@mail.example'])
			expect(
				await order(world, 'atelier', { email, deviceToken: `of ${email}`, code: 'MINE' })
			).toMatchObject({
				ok: true
			});
	});
});

describe('all of it', () => {
	it('off what is paid once joins for nothing, and leaves nothing to pay', async () => {
		const terms: Terms = { currency: 'EUR', firstMinor: 4900, feeMinor: 0, then: { kind: 'nothing' } };
		await createPlan(world.app, null, { ...PLAN, name: 'Film', terms, access: { kind: 'for-good' } });
		await code('GIFT', takesOff(part(100)));
		const begun = await order(world, 'film', { code: 'GIFT' });
		if (!begun.ok) throw new Error(begun.code);
		expect(begun.payUrl).toBe(`/thanks/${begun.orderId}`);
		const made = await orderById(world.app.db, begun.orderId);
		expect(made).toMatchObject({ state: 'paid', totalMinor: 0 });
		expect(await paymentsOf(world.app.db, made?.memberId ?? '')).toEqual([]);
	});

	it('off the first months keeps a card, asks nobody for nothing, and charges when it is over', async () => {
		await code('FREE', takesOff(part(100, 2)));
		const { memberId, state } = await buyWith('FREE');
		expect(state).toBe('paid');
		const calls = world.processor.calls;
		await passDays(world, 40);
		expect(await agreementsOf(world.app.db, memberId)).toMatchObject([{ state: 'running', period: 1 }]);
		expect(world.processor.calls).toBe(calls);
		await passDays(world, 30);
		expect(await paidBy(memberId)).toEqual([1200]);
		await world.stile.runner.runDue('mail');
		expect(world.mails.filter(({ text }) => text.includes('0.00 EUR'))).toEqual([]);
		expect(await booked('processor')).toEqual([1200]);
	});

	it('of a month is settled by the hourly look where the node that began it has died', async () => {
		await code('FREE', takesOff(part(100, 2)));
		const { memberId } = await buyWith('FREE');
		await passDays(world, 40);
		// Begun, and then nothing.
		const [row] = await agreementsOf(world.app.db, memberId);
		if (!row) throw new Error('no agreement');
		const [begun] = await world.app.db
			.select()
			.from(payments)
			.where(and(eq(payments.agreementId, row.id), eq(payments.period, 1)));
		if (!begun) throw new Error('nothing was begun');
		await world.app.db.update(payments).set({ state: 'pending' }).where(eq(payments.id, begun.id));
		await findCharge(world.app, { ...begun, state: 'pending' });
		expect((await paymentById(world.app.db, begun.id))?.state).toBe('captured');
		expect(await agreementsOf(world.app.db, memberId)).toMatchObject([{ state: 'running', period: 1 }]);
	});
});

describe('for holders of another plan', () => {
	const lessForHolders = async (discount: Discount) => {
		const wish = { ...PLAN, name: 'Atelier', lessFor: { planIds: [shop.planId], discount } };
		return createPlan(world.app, null, wish);
	};

	it('is taken off without a code, and of nobody else', async () => {
		await lessForHolders(part(20, null));
		const { memberId } = await buy(world, shop.slug);
		const begun = await order(world, 'atelier', { memberId, email: '' });
		if (!begun.ok) throw new Error(begun.code);
		expect(await orderById(world.app.db, begun.orderId)).toMatchObject({ totalMinor: 960, codeId: null });
		const strange = await order(world, 'atelier', { deviceToken: 'other', email: WREN });
		if (!strange.ok) throw new Error(strange.code);
		expect(await orderById(world.app.db, strange.orderId)).toMatchObject({ totalMinor: 1200 });
		expect(await lineOf(world.app.db, strange.orderId)).toMatchObject({ discount: null });
	});

	it('gives way to a code that saves more, and a code to it', async () => {
		await lessForHolders(part(20, null));
		const { memberId } = await buy(world, shop.slug);
		await code('HALF', takesOff(part(50, null)));
		await code('LITTLE', takesOff(part(5)));
		const total = async (text: string) => {
			const begun = await order(world, 'atelier', { memberId, email: '', code: text });
			if (!begun.ok) throw new Error(begun.code);
			return orderById(world.app.db, begun.orderId);
		};
		expect(await total('HALF')).toMatchObject({ totalMinor: 600 });
		expect(await total('LITTLE')).toMatchObject({ totalMinor: 960, codeId: null });
	});

	it('is changed with the plan, and asked for no more than was shown', async () => {
		const planId = await lessForHolders(part(20, null));
		const { memberId } = await buy(world, shop.slug);
		const wish = { ...PLAN, name: 'Atelier', lessFor: null };
		await agreeing((agreedTo) => editPlan(world.app, null, planId, wish, agreedTo));
		expect(await order(world, 'atelier', { memberId, email: '', seenMinor: 960 })).toEqual({
			...{ ok: false, code: 'changed' }
		});
	});
});

it('a plan says its own words to whoever has it, on the page and in the mail', async () => {
	const note = 'Bring a screwdriver.\n\nThe door is at the back.';
	await createPlan(world.app, null, { ...PLAN, name: 'Evening', note });
	const { memberId, orderId } = await buy(world, 'evening');
	await world.stile.runner.runDue('mail');
	const mail = world.mails.find(({ subject }) => subject.includes('Evening'));
	expect(mail?.text).toContain('Bring a screwdriver.');
	expect(mail?.text).toContain('The door is at the back.');
	expect(await thank(world.app, orderId, null, memberId)).toMatchObject({ note });
	// Whoever has only seen the order reads none of it.
	expect(await thank(world.app, orderId, 'wren@mail.example', null)).toMatchObject({ note });
	expect(await thank(world.app, orderId, 'stranger', null)).toBeNull();
});
