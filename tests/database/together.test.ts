/** Several things in one order: paid by one payment, and each its own from then on. */
import { asc, eq } from 'drizzle-orm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { NO_TAX } from '$core/billing/tax';
import { agreementRevision, agreementsOf, paidFor } from '$server/db/queries/agreements';
import { accountByEmail, grantsOf } from '$server/db/queries/members';
import { movesOf } from '$server/db/queries/moves';
import { linesOfOrder, orderById, paymentsOf, paymentsOfOrder } from '$server/db/queries/sales';
import { grants } from '$server/db/schema/access';
import { accounts } from '$server/db/schema/people';
import { jobs } from '$server/db/schema/running';
import { documents, orderClaims, orders, payments, plans, refunds } from '$server/db/schema/sales';
import { orderPage, unusedNow } from '$server/reads/desk/sales';
import { besidesOf } from '$server/reads/front/besides';
import { lookOf } from '$server/rights/look';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { makeBatch, type CodesDo } from '$server/usecases/codes/codes';
import { createPlan, type PlanWish } from '$server/usecases/plans/save-plan';
import { answerPayment } from '$server/usecases/sales/answer-payment';
import type { WishedThing } from '$server/usecases/sales/wished';
import { declinedOrder, settleReturn, thank } from '$server/usecases/sales/look-at-order';
import { asksNow, beginMove } from '$server/usecases/sales/move-plan';
import { giveBack } from '$server/usecases/sales/refund-payment';
import { settlePayment } from '$server/usecases/sales/settle-payment';
import { saveSite, sitePart } from '$server/usecases/running/save-site';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import { buy, makeShop, makeWorld, monthly, order, passDays, PLAN, refundWhole, type World } from './world';

const WREN = 'wren@mail.example';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;
let book: string;
let club: string;

const once = (minor: number, feeMinor = 0): PlanWish['terms'] => ({
	...{ currency: 'EUR', firstMinor: minor, feeMinor },
	then: { kind: 'nothing' }
});
const plan = (name: string, terms: PlanWish['terms'], over: Partial<PlanWish> = {}) =>
	createPlan(world.app, null, { ...PLAN, name, terms, access: { kind: 'for-good' }, ...over });

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	book = await plan('Book', once(3000));
	club = await plan('Club', monthly(500), { access: { kind: 'while-paid' } });
});
afterEach(async () => {
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

const named = (...slugs: string[]): WishedThing[] => slugs.map((planSlug) => ({ planSlug, priceId: null }));
type Over = Parameters<typeof order>[2];

async function begin(besides: string[], over: Over = {}) {
	const begun = await order(world, shop.slug, { besides: named(...besides), ...over });
	if (!begun.ok) throw new Error(begun.code);
	return { ...begun, ref: begun.payUrl.split('/').at(-1) ?? '' };
}

/** Orders and pays what is put together. */
async function buys(besides: string[], over: Over = {}) {
	const begun = await begin(besides, over);
	world.processor.becomes(begun.ref, 'captured');
	await settleReturn(world.app, begun.orderId, over.deviceToken ?? 'device', over.memberId ?? null);
	const account = await accountByEmail(world.app.db, over.email || WREN);
	return { ...begun, memberId: over.memberId ?? account?.id ?? '' };
}

const held = async (memberId: string) =>
	(await grantsOf(world.app.db, memberId))
		.filter(
			({ revokedAt, until }) => revokedAt === null && (until === null || until > world.app.clock.business())
		)
		.map(({ planId }) => planId)
		.sort();
const papers = () => world.app.db.select().from(documents).orderBy(asc(documents.issuedAt));
const claims = () => world.app.db.select().from(orderClaims);
const settleJobs = async () => {
	await world.stile.runner.runDue('billing');
	await world.stile.runner.runDue('payments');
	await world.stile.runner.runDue('mail');
};

describe('what is bought together', () => {
	it('is one order, one payment and one receipt, and opens each', async () => {
		const { memberId, orderId } = await buys(['book', 'club']);
		expect(await orderById(world.app.db, orderId)).toMatchObject({ state: 'paid', totalMinor: 4700 });
		expect(await held(memberId)).toEqual([shop.planId, book, club].sort());
		const [payment, ...others] = await paymentsOfOrder(world.app.db, orderId);
		expect(others).toEqual([]);
		expect(payment).toMatchObject({ amountMinor: 4700, state: 'captured' });
		const [paper, ...more] = await papers();
		expect(more).toEqual([]);
		expect(paper?.content.lines.map(({ text, amountMinor }) => [text, amountMinor])).toEqual([
			['Workshop', 1200],
			['Book', 3000],
			['Club', 500]
		]);
		// What is paid once is for no time.
		expect(paper?.content.lines.map(({ period }) => period !== undefined)).toEqual([true, false, true]);
		expect(await thank(world.app, orderId, 'device', null)).toMatchObject({
			planName: 'Workshop, Book, Club',
			totalMinor: 4700
		});
	});

	it('is mailed about once, with the names of all of it', async () => {
		await buys(['book']);
		await settleJobs();
		expect(world.mails.map(({ subject }) => subject)).toEqual(['Workshop, Book is open for you']);
	});

	it('goes on each by itself: charged, receipted and cancelled apart', async () => {
		const { memberId } = await buys(['book', 'club']);
		await passDays(world, 32);
		const paid = await paymentsOf(world.app.db, memberId);
		expect(paid.map(({ amountMinor }) => amountMinor).sort()).toEqual([1200, 4700, 500].sort());
		const texts = (await papers()).slice(1).map(({ content }) => content.lines.map(({ text }) => text));
		expect(texts.sort()).toEqual([['Club'], ['Workshop']]);
		const states = (await agreementsOf(world.app.db, memberId)).map(({ state }) => state).sort();
		expect(states).toEqual(['finished', 'running', 'running']);
	});

	it('is said at the Desk thing by thing, with what of it is not used yet', async () => {
		const { orderId } = await buys(['book', 'club']);
		const page = await orderPage(world.app, orderId);
		expect(page?.things.map(({ plan: one, grants: own }) => [one.name, own.length])).toEqual([
			['Workshop', 1],
			['Book', 1],
			['Club', 1]
		]);
		const [payment] = await paymentsOfOrder(world.app.db, orderId);
		if (!payment) throw new Error('nothing was paid');
		// Of the book, which is paid once, nothing is counted by time.
		expect(await unusedNow(world.app, payment)).toBe(1700);
		await passDays(world, 15);
		const unused = await unusedNow(world.app, payment);
		expect(unused).toBeGreaterThan(700);
		expect(unused).toBeLessThan(1000);
	});

	it('ends with a refund of all of it, and with what a bank takes back, until that is won', async () => {
		const { memberId, orderId, ref } = await buys(['book', 'club']);
		const settle = async () => {
			const [payment] = await paymentsOfOrder(world.app.db, orderId);
			if (payment) await settlePayment(world.app, payment);
		};
		world.processor.becomes(ref, 'open');
		await settle();
		expect(await held(memberId)).toEqual([]);
		world.processor.becomes(ref, 'won');
		await settle();
		expect(await held(memberId)).toEqual([shop.planId, book, club].sort());
		const [payment] = await paymentsOfOrder(world.app.db, orderId);
		expect(await refundWhole(world.app, null, payment?.id ?? '')).toMatchObject({ ok: true });
		expect(await held(memberId)).toEqual([]);
		expect((await papers()).at(-1)).toMatchObject({ kind: 'credit-note', amountMinor: 4700 });
	});

	it('is waited for as one where it is paid by transfer, and opens with one yes', async () => {
		const money = sitePart('money', await world.app.site());
		const wish = {
			...money,
			payBy: ['card', 'offline'] as const,
			offline: { name: 'Transfer', how: 'To us' }
		};
		await agreeing((agreedTo) => saveSite(world.app, null, 'money', wish, { agreedTo }));
		const { memberId: known } = await buy(world, 'book', 'teal@mail.example');
		await world.app.db.update(accounts).set({ provedAt: world.app.clock.business() });
		const begun = await begin(['club'], { memberId: known, email: '', payBy: 'offline' });
		expect(await held(known)).toEqual([book]);
		const [payment] = await paymentsOfOrder(world.app.db, begun.orderId);
		const answered = { paymentId: payment?.id ?? '', state: 'captured' as const, why: '' };
		expect(await answerPayment(world.app, null, answered)).toEqual({ ok: true });
		expect(await held(known)).toEqual([shop.planId, book, club].sort());
	});
});

describe('of which something is held already', () => {
	it('gives back what that cost, once, and opens the others', async () => {
		const { memberId } = await buy(world, 'book');
		const { orderId } = await buys(['book', 'club'], { deviceToken: 'other' });
		await settleJobs();
		expect(await held(memberId)).toEqual([shop.planId, book, club].sort());
		const [payment] = await paymentsOfOrder(world.app.db, orderId);
		const back = await world.app.db
			.select()
			.from(refunds)
			.where(eq(refunds.paymentId, payment?.id ?? ''));
		expect(back).toMatchObject([{ amountMinor: 3000, cause: 'surplus', endsAccess: false }]);
		const [line] = (await linesOfOrder(world.app.db, orderId)).filter(({ text }) => text === 'Book');
		await giveBack(world.app, payment?.id ?? '', line?.id ?? '');
		await settleJobs();
		expect((await paymentsOfOrder(world.app.db, orderId))[0]).toMatchObject({ refundedMinor: 3000 });
		const note = (await papers()).at(-1);
		expect(note).toMatchObject({ kind: 'credit-note', amountMinor: 3000 });
		expect(note?.content.lines.map(({ text }) => text)).toEqual(['Book']);
		expect(world.mails.map(({ subject }) => subject)).toContain('You had Book already');
	});

	it('gives back all of it where all is held, also what is paid twice', async () => {
		const { memberId, orderId } = await buys(['club']);
		const second = await begin(['club'], { deviceToken: 'other' });
		world.processor.becomes(second.ref, 'captured');
		await settleReturn(world.app, second.orderId, 'other', null);
		await settleJobs();
		expect(await orderById(world.app.db, second.orderId)).toMatchObject({ state: 'given-back' });
		expect((await paymentsOfOrder(world.app.db, second.orderId))[0]).toMatchObject({ refundedMinor: 1700 });
		expect(await held(memberId)).toEqual([shop.planId, club].sort());
		expect((await paymentsOfOrder(world.app.db, orderId))[0]).toMatchObject({ refundedMinor: 0 });
	});

	it('is refused to a member who is signed in, before anything is paid', async () => {
		const { memberId } = await buy(world, 'book');
		const begun = await order(world, shop.slug, { memberId, email: '', besides: named('book') });
		expect(begun).toEqual({ ok: false, code: 'has-besides' });
	});
});

describe('a move of one of several', () => {
	it('credits what was paid for that one, and leaves the others', async () => {
		const ladder = { ladder: 'Rungs', access: { kind: 'while-paid' as const } };
		await plan('Low', monthly(1000), { ...ladder, rung: 1 });
		const high = await plan('High', monthly(3000), { ...ladder, rung: 2 });
		const { memberId } = await buys(['low']);
		const low = (await agreementsOf(world.app.db, memberId)).find(({ planId }) => planId !== shop.planId);
		if (!low) throw new Error('there is none');
		expect(await paidFor(world.app.db, low)).toBe(1000);
		const at = world.app.clock.business();
		const { zone } = await world.app.site();
		const moves = await movesOf(world.app.db, memberId, low.id, { now: at, zone, tax: NO_TAX });
		const to = moves?.to.find((one) => one.plan.id === high);
		const asksMinor = to && to.answer.kind !== 'refused' ? asksNow(to.answer) : null;
		expect(asksMinor).toBeGreaterThanOrEqual(1999);
		expect(asksMinor).toBeLessThanOrEqual(2001);
		const moved = await beginMove(world.app, {
			...{ memberId, agreementId: low.id, priceId: to?.price.priceId ?? '', payBy: null },
			...{ deviceToken: 'device', seen: { at, revision: agreementRevision(low), asksMinor } }
		});
		if (!moved.ok || moved.kind !== 'to-pay') throw new Error(JSON.stringify(moved));
		const ref = moved.payUrl.split('/').at(-1) ?? '';
		world.processor.becomes(ref, 'captured');
		const [paid] = await world.app.db.select().from(payments).where(eq(payments.processorRef, ref));
		await settleReturn(world.app, paid?.orderId ?? '', 'device', memberId);
		expect(await held(memberId)).toEqual([shop.planId, high].sort());
		const now = (await agreementsOf(world.app.db, memberId)).find(({ id }) => id === low.id);
		expect(now && (await paidFor(world.app.db, now))).toBe(1000 + (asksMinor ?? 0));
		await passDays(world, 32);
		const all = await paymentsOf(world.app.db, memberId);
		expect(all.map(({ amountMinor }) => amountMinor)).toContain(3000);
		expect(all.map(({ amountMinor }) => amountMinor)).toContain(1200);
	});
});

describe('a code on what is bought together', () => {
	const code = async (text: string, does: Partial<Extract<CodesDo, { kind: 'takes-off' }>>) => {
		const all = { kind: 'takes-off' as const, planIds: null, isOncePerBuyer: false };
		const made = await makeBatch(world.app, null, {
			...{ name: text, code: text, count: 1, startsAt: null, endsAt: null, usesPerCode: 1 },
			does: { ...all, discount: { off: { kind: 'percent', percent: 50 }, payments: 1 }, ...does }
		});
		if (!made.ok) throw new Error(made.code);
	};
	const totals = async (orderId: string) =>
		(await linesOfOrder(world.app.db, orderId)).map(({ totalMinor }) => totalMinor);

	it('takes percent off of each that it is for, and an amount off of the first', async () => {
		await code('HALF', {});
		expect(await totals((await begin(['book'], { code: 'HALF' })).orderId)).toEqual([600, 1500]);
		await code('FIVE', { discount: { off: { kind: 'amount', minor: 500, currency: 'EUR' }, payments: 1 } });
		expect(await totals((await begin(['book'], { code: 'FIVE', deviceToken: 'b' })).orderId)).toEqual([
			700, 3000
		]);
	});

	it('counts where it is for one of them, and is used once by the order', async () => {
		await code('BOOK', { planIds: [book] });
		const begun = await begin(['book', 'club'], { code: 'BOOK' });
		expect(await totals(begun.orderId)).toEqual([1200, 1500, 500]);
		const other = await order(world, 'book', { code: 'BOOK', deviceToken: 'other', email: 'b@mail.example' });
		expect(other).toEqual({ ok: false, code: 'used-up' });
		const without = await order(world, shop.slug, { code: 'BOOK', deviceToken: 'c', besides: named('club') });
		expect(without).toEqual({ ok: false, code: 'other-plan' });
	});
});

describe('what cannot be put together', () => {
	it.each([
		['nothing', 'besides-gone'],
		['dollars', 'besides-currency'],
		['third', 'same-ladder']
	] as const)('%s: %s', async (slug, expected) => {
		await plan('Dollars', { ...once(100), currency: 'USD' });
		const ladder = { ladder: 'Rungs', access: { kind: 'while-paid' as const } };
		await plan('Second', monthly(1000), { ...ladder, rung: 1 });
		await plan('Third', monthly(2000), { ...ladder, rung: 2 });
		const begun = await order(world, shop.slug, { besides: named('second', slug) });
		expect(begun).toEqual({ ok: false, code: expected });
		expect(await world.app.db.select().from(orders)).toEqual([]);
	});

	it('what is given, and what is for several people', async () => {
		await world.app.db.update(plans).set({ sellsSeats: true, sellsAsGift: true });
		await world.app.rights.refresh();
		expect(await order(world, 'book', { besides: named('club'), seats: 2 })).toEqual({
			ok: false,
			code: 'no-seats'
		});
		const gift = { email: 'teal@mail.example', words: '', day: null };
		expect(await order(world, 'book', { besides: named('club'), gift })).toEqual({
			ok: false,
			code: 'no-gift'
		});
	});

	it('what was shown at another sum', async () => {
		const begun = await order(world, shop.slug, { besides: named('book'), seenMinor: 1200 });
		expect(begun).toEqual({ ok: false, code: 'changed' });
		expect((await order(world, shop.slug, { besides: named('book'), seenMinor: 4200 })).ok).toBe(true);
	});
});

describe('by what an order stands', () => {
	it('is all that it is of: one with any of them takes its place, and none is left when it is paid', async () => {
		const first = await begin(['book', 'club']);
		expect(await claims()).toHaveLength(3);
		const again = await begin(['book', 'club']);
		expect(again.orderId).toBe(first.orderId);
		const second = await order(world, 'club', {});
		if (!second.ok) throw new Error(second.code);
		expect(await orderById(world.app.db, first.orderId)).toMatchObject({ state: 'replaced' });
		expect(await claims()).toMatchObject([{ orderId: second.orderId }]);
		world.processor.becomes(second.payUrl.split('/').at(-1) ?? '', 'captured');
		await settleReturn(world.app, second.orderId, 'device', null);
		expect(await claims()).toEqual([]);
	});

	it('is one order, however many ask at once', async () => {
		const all = await Promise.all(Array.from({ length: 5 }, () => begin(['book', 'club'])));
		expect(new Set(all.map(({ orderId }) => orderId)).size).toBe(1);
		const crossed = await Promise.all([
			order(world, 'book', { besides: named('club'), deviceToken: 'x' }),
			order(world, 'club', { besides: named('book'), deviceToken: 'x' }),
			order(world, 'club', { deviceToken: 'x' }),
			order(world, 'book', { deviceToken: 'x' })
		]);
		expect(crossed.every(({ ok }) => ok)).toBe(true);
		const open = await world.app.db.select().from(orders).where(eq(orders.state, 'open'));
		const standing = (await claims()).map(({ orderId }) => orderId);
		expect(new Set(standing)).toEqual(new Set(open.map(({ id }) => id)));
	});

	it('is each device’s own: nobody ends what another has begun with the same address', async () => {
		const first = await begin(['book']);
		await begin(['book'], { deviceToken: 'another' });
		expect(await orderById(world.app.db, first.orderId)).toMatchObject({ state: 'open' });
	});

	it('is a ladder, and not each of its rungs', async () => {
		const ladder = { ladder: 'Rungs', access: { kind: 'while-paid' as const } };
		await plan('Low', monthly(1000), { ...ladder, rung: 1 });
		await plan('High', monthly(3000), { ...ladder, rung: 2 });
		const low = await order(world, 'low', {});
		const high = await order(world, 'high', {});
		if (!low.ok || !high.ok) throw new Error('not begun');
		expect(await orderById(world.app.db, low.orderId)).toMatchObject({ state: 'replaced' });
		expect(await orderById(world.app.db, high.orderId)).toMatchObject({ state: 'open' });
	});

	it('is offered again as it was, where the card was declined', async () => {
		const begun = await begin(['book', 'club']);
		world.processor.becomes(begun.ref, 'declined');
		await settleReturn(world.app, begun.orderId, 'device', null);
		const before = await declinedOrder(world.app, shop.planId, 'device');
		const look = await lookOf(world.app, null, null, null);
		const head = { id: shop.planId, ladderId: null, currency: 'EUR', asksPostal: false, payBy: null };
		const { chosen } = await besidesOf(world.app, look, head, before?.besides ?? []);
		expect(chosen.map(({ plan: one }) => one.name).sort()).toEqual(['Book', 'Club']);
		expect(await declinedOrder(world.app, book, 'device')).toBeNull();
	});
});

it('offers with a plan what is sold to whoever looks, and nothing that they hold', async () => {
	const { memberId } = await buy(world, 'book');
	await plan('Hidden', once(100), { isPublic: false });
	const head = { id: shop.planId, ladderId: null, currency: 'EUR', asksPostal: false, payBy: null };
	const offered = async (id: string | null, names: string[] = []) => {
		const standing = id === null ? null : await world.app.rights.standing(id);
		const found = await besidesOf(world.app, await lookOf(world.app, standing, null, null), head, names);
		return found.offered.map(({ plan: one }) => one.name).sort();
	};
	expect(await offered(null)).toEqual(['Book', 'Club']);
	expect(await offered(memberId)).toEqual(['Club']);
	expect(await offered(null, ['hidden'])).toEqual(['Book', 'Club', 'Hidden']);
	const [due] = await world.app.db.select().from(jobs).where(eq(jobs.state, 'failed'));
	expect(due).toBeUndefined();
	expect(await world.app.db.select().from(grants)).toHaveLength(1);
});
