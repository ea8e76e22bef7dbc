/** Gifts: bought for somebody else's address, told on a day, opened by whoever has proved that mailbox. */
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { agreementsOf } from '$server/db/queries/agreements';
import { giftsBy } from '$server/db/queries/gifts';
import { accountByEmail } from '$server/db/queries/members';
import { orderById, paymentsOf } from '$server/db/queries/sales';
import { accounts } from '$server/db/schema/people';
import { jobs } from '$server/db/schema/running';
import { gifts, orders, payments, plans } from '$server/db/schema/sales';
import { accountView } from '$server/reads/front/account-view';
import { giftPage } from '$server/reads/front/gifts';
import { ownData } from '$server/reads/front/own-data';
import { orderPage } from '$server/reads/desk/sales';
import { lookOf } from '$server/rights/look';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { askForLink, pressLink } from '$server/usecases/accounts/sign-in-link';
import { changeGiftFromDesk, changeOwnGift } from '$server/usecases/sales/change-gift';
import { expireOrders, forgetStrangersOrders } from '$server/usecases/sales/end-pay-page';
import { settleReturn, thank } from '$server/usecases/sales/look-at-order';
import { openGift } from '$server/usecases/sales/open-gift';
import { refundPayment } from '$server/usecases/sales/refund-payment';
import { applyFact, settlePayment } from '$server/usecases/sales/settle-payment';
import { ledgerFaults } from '../../scripts/lib/ledger.mjs';
import { buy, mailedToken, makeShop, makeWorld, NEW_DEVICE, order, passDays, type World } from './world';

let world: World;
let shop: Awaited<ReturnType<typeof makeShop>>;

beforeEach(async () => {
	world = await makeWorld();
	shop = await makeShop(world);
	await world.app.db.update(plans).set({ sellsAsGift: true });
});
afterEach(async () => {
	expect(await ledgerFaults(world.app.pool)).toEqual([]);
	await world.end();
});

const [GIVER, IDA] = ['wren@mail.example', 'ida@mail.example'];
const GIFT = { email: IDA, words: 'For the long evenings.', day: null as string | null };
const today = () => new Date(world.app.clock.business()).toISOString().slice(0, 10);
const dayAhead = (days: number) =>
	new Date(world.app.clock.business() + days * 86_400_000).toISOString().slice(0, 10);
const begin = (gift: Partial<typeof GIFT> = {}, over: Parameters<typeof order>[2] = {}) =>
	order(world, shop.slug, { gift: { ...GIFT, ...gift }, ...over });

/** Orders a gift and pays for it. */
async function give(gift: Partial<typeof GIFT> = {}, over: Parameters<typeof order>[2] = {}) {
	const begun = await begin(gift, over);
	if (!begun.ok) throw new Error(begun.code);
	const ref = begun.payUrl.split('/').at(-1) ?? '';
	world.processor.becomes(ref, 'captured');
	await settleReturn(world.app, begun.orderId, over.deviceToken ?? 'device', over.memberId ?? null);
	const [gave] = await world.app.db.select().from(gifts).limit(1);
	const giver = await accountByEmail(world.app.db, GIVER);
	if (!gave || !giver) throw new Error('nothing was given');
	await run();
	return { id: gave.id, orderId: begun.orderId, ref, giverId: giver.id };
}
const run = async () => {
	for (const lane of ['payments', 'billing', 'sign-in', 'mail'] as const)
		await world.stile.runner.runDue(lane);
};
const mailsTo = (email: string) => world.mails.filter(({ to }) => to === email);
/** Comes by the last link that was mailed to an address. */
async function arrive(email: string): Promise<string> {
	const pressed = await pressLink(world.app, await mailedToken(world, email), NEW_DEVICE, true);
	if (!pressed) throw new Error('the link was spent');
	return pressed.accountId;
}
const isOpen = async (memberId: string) =>
	(await world.app.rights.decide(memberId, shop.itemId, world.app.clock.business())).verdict === 'open';
const states = async (giverId: string) => (await giftsBy(world.app.db, giverId)).map(({ state }) => state);
const look = async (memberId: string) =>
	lookOf(world.app, await world.app.rights.standing(memberId), null, null);

describe('a gift that is told today', () => {
	it('opens for whom it is for, from when they open it, and for nobody before', async () => {
		const { id, giverId } = await give();
		const [told] = mailsTo(IDA);
		expect(told?.subject).toBe('Wren gives you Workshop');
		expect(told?.text).toContain('For the long evenings.');
		expect(mailsTo(GIVER).map(({ subject }) => subject)).toEqual(['Your gift: Workshop']);
		expect(await isOpen(giverId)).toBe(false);
		expect(await accountByEmail(world.app.db, IDA)).toBeNull();
		// Read late: no day of it is lost.
		await passDays(world, 10);
		const ida = await arrive(IDA);
		expect(await isOpen(ida)).toBe(false);
		expect(await openGift(world.app, ida, id)).toEqual({ ok: true, planId: shop.planId });
		expect(await isOpen(ida)).toBe(true);
		await passDays(world, 27);
		expect(await isOpen(ida)).toBe(true);
		await passDays(world, 5);
		expect(await isOpen(ida)).toBe(false);
		// Nothing more is asked of anybody.
		expect(await paymentsOf(world.app.db, ida)).toEqual([]);
		expect((await paymentsOf(world.app.db, giverId)).map(({ amountMinor }) => amountMinor)).toEqual([1200]);
	});

	it('is one, however many open it at once', async () => {
		const { id } = await give();
		const ida = await arrive(IDA);
		const opened = await Promise.all([1, 2, 3, 4].map(() => openGift(world.app, ida, id)));
		expect(opened.every(({ ok }) => ok)).toBe(true);
		expect(await agreementsOf(world.app.db, ida)).toHaveLength(1);
	});

	it('shows the giver what became of it, and whom it is for nothing of its price', async () => {
		const { id, giverId, orderId } = await give();
		expect(await states(giverId)).toEqual(['told']);
		const ida = await arrive(IDA);
		expect((await accountView(world.app, await look(ida), ida)).gifts.waiting).toEqual([
			{ id, plan: 'Workshop', giver: 'Wren' }
		]);
		await openGift(world.app, ida, id);
		expect(await states(giverId)).toEqual(['open']);
		const account = await accountView(world.app, await look(ida), ida);
		expect(account.plans).toEqual([]);
		expect(account.given.map(({ name, source }) => [name, source])).toEqual([['Workshop', 'gift']]);
		expect(JSON.stringify(account)).not.toContain('1200');
		expect(JSON.stringify(await ownData(world.app, ida))).not.toContain('1200');
		const desk = await orderPage(world.app, orderId);
		expect(desk?.gift).toMatchObject({ email: IDA, state: 'open', holder: { id: ida } });
		expect((await ownData(world.app, giverId))?.giftsGiven).toMatchObject([{ for: IDA, state: 'open' }]);
	});

	it('thanks whoever gives it, and leads to nothing that they have not bought', async () => {
		const { orderId, giverId } = await give();
		const thanks = await thank(world.app, orderId, 'device', giverId);
		expect(thanks).toMatchObject({ kind: 'paid', landing: '/account', gift: { email: IDA, isTold: true } });
	});
});

describe('a gift that is told later', () => {
	it('is told in the morning of its day, once, and is not seen before', async () => {
		const { id, giverId } = await give({ day: dayAhead(5) });
		expect(await states(giverId)).toEqual(['kept']);
		const early = await buy(world, shop.slug, IDA);
		await arrive(IDA);
		expect((await accountView(world.app, await look(early.memberId), early.memberId)).gifts.waiting).toEqual(
			[]
		);
		expect(await openGift(world.app, early.memberId, id)).toEqual({ ok: false, code: 'unknown' });
		const isTold = () => mailsTo(IDA).filter(({ subject }) => subject.includes('gives you')).length;
		await passDays(world, 4);
		await run();
		expect(isTold()).toBe(0);
		await passDays(world, 2);
		await run();
		expect(isTold()).toBe(1);
		await passDays(world, 3);
		await run();
		expect(isTold()).toBe(1);
	});

	it('is told to nobody where the money went back before', async () => {
		const { orderId, giverId } = await give({ day: dayAhead(5) });
		await refund(orderId);
		await passDays(world, 7);
		await run();
		expect(mailsTo(IDA)).toEqual([]);
		expect(await states(giverId)).toEqual(['given-back']);
	});
});

it('that is disputed on its day is told when that is won', async () => {
	const { giverId, ref } = await give({ day: dayAhead(5) });
	const [payment] = await paymentsOf(world.app.db, giverId);
	if (!payment) throw new Error('nothing was paid');
	world.processor.becomes(ref, 'open');
	await settlePayment(world.app, payment);
	await passDays(world, 7);
	await run();
	expect(mailsTo(IDA)).toEqual([]);
	world.processor.becomes(ref, 'won');
	await settlePayment(world.app, payment);
	await run();
	expect(mailsTo(IDA)).toHaveLength(1);
});

async function refund(orderId: string, endsAccess = true) {
	const desk = await orderPage(world.app, orderId);
	const payment = desk?.payments[0];
	if (!payment) throw new Error('nothing was paid');
	const wish = { id: uuidv7(), paymentId: payment.id, amountMinor: payment.leftMinor, endsAccess, why: '' };
	expect(await refundPayment(world.app, null, wish)).toEqual({ ok: true, isDone: true });
}

describe('money that goes back', () => {
	it('shuts what was opened', async () => {
		const { id, orderId } = await give();
		const ida = await arrive(IDA);
		await openGift(world.app, ida, id);
		await refund(orderId);
		expect(await isOpen(ida)).toBe(false);
	});

	it('keeps shut what was not opened yet, and says so', async () => {
		const { id, orderId } = await give();
		const ida = await arrive(IDA);
		await refund(orderId);
		expect(await openGift(world.app, ida, id)).toEqual({ ok: false, code: 'given-back' });
		expect((await giftPage(world.app, await look(ida), ida, id)).kind).toBe('given-back');
		expect((await accountView(world.app, await look(ida), ida)).gifts.waiting).toEqual([]);
	});

	it('leaves it where access was to stay', async () => {
		const { id, orderId } = await give();
		await refund(orderId, false);
		expect((await openGift(world.app, await arrive(IDA), id)).ok).toBe(true);
	});

	it('keeps it shut while the giver’s bank takes it back, and opens it when that is won', async () => {
		const { id, ref } = await give();
		const ida = await arrive(IDA);
		const payment = (
			await paymentsOf(world.app.db, (await accountByEmail(world.app.db, GIVER))?.id ?? '')
		)[0];
		if (!payment) throw new Error('nothing was paid');
		world.processor.becomes(ref, 'open');
		await settlePayment(world.app, payment);
		expect(await openGift(world.app, ida, id)).toEqual({ ok: false, code: 'given-back' });
		world.processor.becomes(ref, 'won');
		await settlePayment(world.app, payment);
		expect((await openGift(world.app, ida, id)).ok).toBe(true);
	});
});

describe('what is refused', () => {
	it.each<[string, () => ReturnType<typeof begin>, string]>([
		['one’s own address', () => begin({ email: ' Wren@Mail.Example ' }), 'gift-own'],
		['a day that is over', () => begin({ day: dayAhead(-1) }), 'gift-over'],
		['a day two years ahead', () => begin({ day: dayAhead(730) }), 'gift-too-far']
	])('%s', async (_, ask, code) => {
		expect(await ask()).toEqual({ ok: false, code });
		expect(await world.app.db.select().from(orders)).toEqual([]);
	});

	it('a plan that cannot be given', async () => {
		await world.app.db.update(plans).set({ sellsAsGift: false });
		expect(await begin()).toEqual({ ok: false, code: 'no-gift' });
	});

	it('opening it by another member, by whoever has not proved the mailbox, and by guessing', async () => {
		const { id, giverId } = await give();
		// Mallory types Ida’s address, and pays: the account is theirs on this device, the mailbox is not.
		const mallory = await buy(world, shop.slug, IDA);
		expect(await openGift(world.app, mallory.memberId, id)).toEqual({ ok: false, code: 'unknown' });
		expect((await giftPage(world.app, await look(mallory.memberId), mallory.memberId, id)).kind).toBe(
			'unproved'
		);
		expect(await openGift(world.app, giverId, id)).toEqual({ ok: false, code: 'unknown' });
		for (const other of [uuidv7(), 'x', ''])
			expect((await openGift(world.app, giverId, other)).ok).toBe(false);
	});

	it('a second while the first is held: it waits, and says so', async () => {
		const { id } = await give();
		await buy(world, shop.slug, IDA);
		const ida = await arrive(IDA);
		expect(await openGift(world.app, ida, id)).toEqual({ ok: false, code: 'has-plan' });
		expect((await giftPage(world.app, await look(ida), ida, id)).kind).toBe('waits');
	});
});

describe('the giver', () => {
	it('may hold the plan, and gives two people one each', async () => {
		const { memberId } = await buy(world, shop.slug, GIVER);
		const own = { memberId, email: '', name: '' };
		const [first, again, other] = [
			await begin({}, own),
			await begin({}, own),
			await begin({ email: 'jo@mail.example' }, own)
		];
		expect([first.ok, again.ok, other.ok]).toEqual([true, true, true]);
		if (!first.ok || !again.ok || !other.ok) return;
		// A double press is one order, another person another one.
		expect(again.orderId).toBe(first.orderId);
		expect(other.orderId).not.toBe(first.orderId);
		expect((await orderById(world.app.db, first.orderId))?.totalMinor).toBe(1200);
	});

	it('changes words and day until it is paid', async () => {
		await begin({ words: 'First', day: today() });
		await begin({ words: 'Second', day: dayAhead(3) });
		const kept = await world.app.db.select().from(gifts);
		expect(kept.map(({ words }) => words)).toEqual(['Second']);
	});

	it('mends the address: the mail goes there, and the first address opens nothing any more', async () => {
		const { id, giverId } = await give({ email: 'idda@mail.example' });
		const wrong = await arrive('idda@mail.example');
		expect(await changeOwnGift(world.app, giverId, { giftId: id, email: 'Ida@mail.example ' })).toEqual({
			...{ ok: true, told: true }
		});
		await run();
		expect(mailsTo(IDA)).toHaveLength(1);
		expect(await openGift(world.app, wrong, id)).toEqual({ ok: false, code: 'unknown' });
		expect((await giftPage(world.app, await look(wrong), wrong, id)).kind).toBe('not-here');
		expect((await openGift(world.app, await arrive(IDA), id)).ok).toBe(true);
		expect(await changeOwnGift(world.app, giverId, { giftId: id, email: 'jo@mail.example' })).toEqual({
			...{ ok: false, code: 'open' }
		});
	});

	it('writes to nobody without end, and to nobody with what others gave', async () => {
		const { id, giverId } = await give();
		const other = await buy(world, shop.slug, 'mallory@mail.example');
		expect(await changeOwnGift(world.app, other.memberId, { giftId: id, email: 'jo@mail.example' })).toEqual({
			...{ ok: false, code: 'unknown' }
		});
		const tries = [];
		for (let n = 0; n < 7; n++)
			tries.push(await changeOwnGift(world.app, giverId, { giftId: id, email: `jo${n}@mail.example` }));
		expect(tries.filter(({ ok }) => ok)).toHaveLength(5);
		expect(tries.at(-1)).toEqual({ ok: false, code: 'too-many' });
		expect((await changeGiftFromDesk(world.app, null, { giftId: id, email: IDA })).ok).toBe(false);
	});
});

it('that is paid twice is given once, and the second payment goes back', async () => {
	const { orderId, giverId, id } = await give();
	const [first] = await world.app.db.select().from(payments);
	if (!first) throw new Error('nothing was paid');
	// A page that was open still, and was paid on.
	const second = {
		...first,
		id: uuidv7(),
		attempt: 2,
		idempotencyKey: `order:${orderId}:2`,
		processorRef: 'page-2'
	};
	await world.app.db.insert(payments).values({ ...second, state: 'pending', settledAt: null });
	const fact = await world.processor.fetch(first.processorRef ?? '');
	if (!fact) throw new Error('nothing is known of it');
	await applyFact(world.app, second.id, { ...fact, ref: 'page-2' });
	const waiting = await world.app.db.select().from(jobs).where(eq(jobs.kind, 'give-back'));
	expect(waiting.map(({ payload }) => payload)).toEqual([{ paymentId: second.id }]);
	expect(await states(giverId)).toEqual(['told']);
	await run();
	expect(mailsTo(IDA)).toHaveLength(1);
	expect((await openGift(world.app, await arrive(IDA), id)).ok).toBe(true);
});

describe('what is kept of people', () => {
	it('goes with them: the giver’s name and words, and the address of whom it is for', async () => {
		const { id, giverId } = await give();
		await deleteMember(world.app, null, giverId);
		const [kept] = await world.app.db.select().from(gifts);
		expect([kept?.giverName, kept?.words, kept?.email]).toEqual(['', '', IDA]);
		const ida = await arrive(IDA);
		expect(await giftPage(world.app, await look(ida), ida, id)).toMatchObject({
			giver: 'Stile'
		});
		expect((await openGift(world.app, ida, id)).ok).toBe(true);
		await deleteMember(world.app, null, ida);
		expect((await world.app.db.select().from(gifts))[0]?.email).toBeNull();
	});

	it('is forgotten with an order that nobody paid', async () => {
		await begin();
		await passDays(world, 10);
		await expireOrders(world.app);
		await forgetStrangersOrders(world.app);
		expect(await world.app.db.select().from(gifts)).toEqual([]);
		expect(mailsTo(IDA)).toEqual([]);
	});

	it('lets whoever asks for a link to a gift’s address in, account or not', async () => {
		await give();
		await passDays(world, 20);
		await askForLink(world.app, { email: IDA, next: '/account', client: '127.0.0.9' });
		const ida = await arrive(IDA);
		expect((await accountView(world.app, await look(ida), ida)).gifts.waiting).toHaveLength(1);
		expect((await world.app.db.select().from(accounts)).filter(({ email }) => email === IDA)).toHaveLength(1);
	});
});
